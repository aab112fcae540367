import type { NoFirst } from '@/core/begin/beginning';
import type { Passage } from '@/core/begin/passage';
import { drawFirsts, firstsOf, type FoundFirst } from '@/core/actions/first-outlines';
import type { RowChange } from '@/core/document/edit';
import { numbersPerPoint } from '@/core/model/choices';
import { told } from '@/interface/start-worker';
import { useDocument } from '../document/document-store';
import { setView } from '../view/view-store';
import { beginRun, busyNow, carrierBegun, shownSources, useCarry } from './carry-store';
import { measureMovement, measuringMovement } from './movement';
import { showView } from '../view/show';
import { goTo } from '../session/go-to';
import { edit } from '../session/edit';
import { crossingFrameIn, type Traced, tracedNow } from '../session/traced';
import { layoutOf } from '@/core/document/plans';

const refusals: Record<NoFirst, string> = {
  'not measured': 'The movement of the shot could not be measured.',
  'nothing crosses':
    'Nothing in this shot moves otherwise than the picture as a whole, and no one is seen in it. Draw the outline by hand (L for a seam, O for a loop).',
  'no clear edge':
    'What moves here has no clear edge where ground comes or goes. Draw the outline by hand (L for a seam, O for a loop), then carry it on.',
};

/** Clearness from which on a first outline is called clear. */
export const clearFrom = 0.6;

/** Why Kiv cannot begin here; null where it can. */
export function notBegun(): string | null {
  const traced = tracedNow();
  if (!traced) return 'Choose an outgoing shot first.';
  const { document, layer, shot } = traced;
  if (shot.frameCount < 8) return 'A still has no movement to begin from. Draw the outline by hand.';
  if (firstsOf(document, layer.id).length > 0) return null;
  return layoutOf(document.crossing.plan).edges.length > 1
    ? 'Its edges are there already, or another layer than the plan’s is traced.'
    : 'Kiv begins by itself only where something passes by, arrives or opens. Draw the outline by hand here.';
}

/** An outline that was found, and what is to be said of it. */
export interface Found extends FoundFirst {
  clear: number;
  groundLeft: boolean | null;
  /** How its edge goes through the picture; null where that was not seen. */
  passage: Passage | null;
}

/**
 * The first outlines from the movement, each on the frame where it is clearest: a seam on the edge behind which the way
 * opens, or in an arrival on the one that comes first; both of a bridge; a loop about what opens.
 */
export async function beginForMe(): Promise<string | null> {
  const traced = tracedNow();
  const refusal = notBegun();
  if (refusal || !traced) return refusal;
  const busy = busyNow();
  if (busy) return busy;
  const shotId = traced.shot.id;
  const isWanted = beginRun();
  const tell = (share: number) =>
    useCarry.setState({ under: { what: measuringMovement, share }, says: null });
  const failure = await measureMovement(traced.shot, isWanted, tell).finally(() =>
    useCarry.setState({ under: null }),
  );
  if (failure || !isWanted()) return failure;
  const ready = tracedNow();
  // Another crossing by now, or it was given up.
  if (ready?.shot.id !== shotId || !ready.shot.motion) return null;
  useCarry.setState({ under: { what: 'Looking for the edge', share: 0 }, says: null });
  try {
    const found = await findFirsts(ready);
    const now = tracedNow();
    if (found === null || now?.shot.id !== shotId || now.layer.id !== ready.layer.id) return null;
    return typeof found === 'string' ? found : draw(now, found);
  } finally {
    useCarry.setState({ under: null });
  }
}

/** What a plan begins with, one after the other; a sentence where none is found, null where it was given up. */
export async function findFirsts(traced: Traced): Promise<Found[] | string | null> {
  const carrier = await carrierBegun();
  if (!carrier)
    return 'This part of the page could not be started. Load the page again; everything is saved.';
  const firsts = firstsOf(traced.document, traced.layer.id);
  const within = shownSources(traced);
  const found: Found[] = [];
  let refusal: string | null = null;
  for (const [k, first] of firsts.entries()) {
    const hear = told((share: number) =>
      useCarry.setState({ under: { what: 'Looking for the edge', share: (k + share) / firsts.length } }),
    );
    const answer = await (first.on === 'gap'
      ? carrier.beginGap(traced.shot.id, { within }, hear)
      : carrier.begin(traced.shot.id, { within, edge: first.on }, hear));
    if (answer === null) return null;
    if (typeof answer === 'string') refusal = refusals[answer];
    else found.push({ groundLeft: null, passage: null, ...answer, ...first, id: crypto.randomUUID() });
  }
  return found.length > 0 ? found : refusal;
}

/** @param further changes that go into the same edit. */
export function draw(
  traced: Traced,
  found: readonly Found[],
  further: (names: string) => RowChange[] = () => [],
): string | null {
  const { document } = useDocument.getState();
  if (!document) return null;
  const changes = drawFirsts(document, traced.layer.id, found, () => crypto.randomUUID());
  const names = changes
    .flatMap(({ table, after }) => (table === 'outline' && after ? [after.name] : []))
    .join(' and ');
  edit(`Begin ${names}`, [...changes, ...further(names)]);
  const frames = found.map(({ frame }) => crossingFrameIn(traced, frame));
  setView({ outlineId: found[0].id, tool: 'edit', points: new Set(), playing: false });
  goTo(frames[0]);
  showView('plain');
  const points = found.map(({ coordinates }) => coordinates.length / numbersPerPoint);
  const places = found.map(
    (first, k) =>
      `${first.meant ? `the ${first.meant.purpose} ` : ''}on frame ${frames[k]} with ${points[k]} points`,
  );
  const begun = `Begun ${places.join(', ')}`;
  if (found.some(({ clear }) => clear < clearFrom))
    return `${begun}, but the edge is not clear there: look closely before you carry it on.`;
  const missing =
    found.length < firstsOf(document, traced.layer.id).length
      ? ' The other edge is not clear enough: draw it by hand.'
      : '';
  return `${begun}: ${restsOn(found)}.${missing} Look at it, then carry it on (Ctrl Shift →, and ←).`;
}

/** What a first outline rests on, in words. */
export function restsOn([{ on, groundLeft, person }, second]: readonly Found[]): string {
  if (person && !second)
    return `on a person’s ${on === 'leading' ? 'leading' : 'trailing'} edge, with the ground to its ${groundLeft ? 'left' : 'right'}`;
  if (second) return 'before the one ground goes under, behind the other it comes back';
  if (on === 'gap') return 'what is within came to light, and stays';
  return `the ground to its ${groundLeft ? 'left' : 'right'} stays, what is on the other side moves`;
}
