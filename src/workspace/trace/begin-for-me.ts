import type { NoFirst } from '@/core/begin/first-seam';
import { drawOutline, pointIds } from '@/core/document/actions';
import { nextOutline } from '@/core/document/plans';
import { numbersPerPoint, type Plan } from '@/core/document/rows';
import { told } from '@/interface/start-worker';
import { useDocument } from '../document/document-store';
import { measureShots, useMotion } from '../line-up/motion-store';
import { setView } from '../view-store';
import { carrierBegun, shownSources, useCarry } from './carry-store';
import { edit, goTo, showView } from './commands';
import { crossingFrameIn, tracedNow } from './traced';

const refusals: Record<NoFirst, string> = {
  'not measured': 'The movement of the shot could not be measured.',
  'nothing crosses':
    'Nothing in this shot moves otherwise than the picture as a whole. Draw the seam by hand (L).',
  'no clear edge':
    'What moves here has no clear edge behind which ground stays. Draw the seam by hand (L), then carry it on.',
};

/** Clearness from which on a first outline is called clear. */
const clearFrom = 0.6;

/** The edge of what crosses that a plan's first seam lies on; null where it begins with something else. */
function edgeOf(plan: Plan): 'trailing' | 'leading' | null {
  return plan === 'pass-by' ? 'trailing' : plan === 'arrival' ? 'leading' : null;
}

/** Why Kiv cannot begin here; null where it can. */
export function notBegun(): string | null {
  const traced = tracedNow();
  if (!traced) return 'Choose an outgoing shot first.';
  const { plan } = traced.document.crossing;
  if (traced.shot.frameCount < 8) return 'A still has no movement to begin from. Draw the outline by hand.';
  return edgeOf(plan)
    ? null
    : 'Kiv begins by itself only where something passes by or arrives. Draw the outline by hand here.';
}

/**
 * The first outline from the movement: a seam on the edge behind which the way opens, or in an arrival on the one that comes
 * first, on the frame where it is clearest.
 */
export async function beginForMe(): Promise<string | null> {
  const traced = tracedNow();
  const refusal = notBegun();
  if (refusal || !traced) return refusal;
  if (useCarry.getState().under) return 'Something is being carried already; Esc stops it.';
  const shotId = traced.shot.id;
  if (!traced.shot.motion) {
    useCarry.setState({ under: { what: 'Measuring the movement', share: 0 }, says: null });
    const stop = useMotion.subscribe(({ measuring }) => {
      if (measuring?.shotId === shotId)
        useCarry.setState({ under: { what: 'Measuring the movement', share: measuring.share } });
    });
    try {
      await measureShots([shotId]);
    } finally {
      stop();
      useCarry.setState({ under: null });
    }
    const { failure } = useMotion.getState();
    if (failure) return failure;
  }
  const measured = tracedNow();
  // Another crossing by now, or it was given up.
  if (measured?.shot.id !== shotId || !measured.shot.motion) return null;
  useCarry.setState({ under: { what: 'Looking for the edge', share: 0 }, says: null });
  try {
    const carrier = await carrierBegun();
    if (!carrier) return 'The page is not ready for this yet; load it again.';
    const hear = told((share: number) =>
      useCarry.setState({ under: { what: 'Looking for the edge', share } }),
    );
    const edge = edgeOf(measured.document.crossing.plan) ?? 'trailing';
    const found = await carrier.begin(shotId, { within: shownSources(measured), edge }, hear);
    const now = tracedNow();
    if (found === null || now?.shot.id !== shotId) return null;
    if (typeof found === 'string') return refusals[found];
    const count = found.coordinates.length / numbersPerPoint;
    const planned = nextOutline(now.document, now.layer.id);
    const outline = {
      id: crypto.randomUUID(),
      layerId: now.layer.id,
      cutsLayerId: planned.cutsLayerId,
      name: planned.name ?? `Seam ${1 + now.outlines.filter(({ kind }) => kind === 'seam').length}`,
      kind: 'seam' as const,
      // The ground is on its right: swept where it is laid bare, not where something comes over it.
      sweptSide: edge === 'trailing' ? ('right' as const) : ('left' as const),
      points: pointIds(count, () => crypto.randomUUID()),
    };
    const { document } = useDocument.getState();
    if (!document) return null;
    edit(`Begin ${outline.name}`, drawOutline(document, outline, found.frame, found.coordinates));
    const frame = crossingFrameIn(now, found.frame);
    setView({ outlineId: outline.id, tool: 'edit', points: new Set(), playing: false });
    goTo(frame);
    showView('plain');
    const begun = `Begun on frame ${frame} with ${count} points`;
    if (found.clear < clearFrom)
      return `${begun}, but the edge is not clear there: look closely before you carry it on.`;
    const side = found.groundLeft ? 'left' : 'right';
    return `${begun}: the ground to its ${side} stays, what is on the other side moves. Look at it, then carry it on (Ctrl Shift →, and ←).`;
  } finally {
    useCarry.setState({ under: null });
  }
}
