import { setCrossing, putMark } from '@/core/actions/layer-actions';
import { type EdgeProposal, proposeEdge } from '@/core/checks/proposal';
import { layersInOrder } from '@/core/document/document';
import { layoutOf } from '@/core/document/plans';
import { type MarkRow, plainLayer } from '@/core/document/tables';
import { inAndOut, slipped } from '@/core/draft/decide';
import { type Decision } from '@/core/draft/decisions';
import { surenessOf } from '@/core/draft/plan-for';
import { crossingFrameIn, tracedNow } from '../session/traced';

import { type Draft, newId } from './draft';
import { shotsNow } from './decide-plan';

/** When the edge opens and closes, as its passage or the shot's movement says. */
function timesFound(
  draft: Draft,
): (Pick<EdgeProposal, 'opens' | 'closes' | 'basis'> & { sure: Decision['sure'] }) | null {
  const traced = tracedNow();
  if (!traced) return null;
  const passages = typeof draft.found === 'string' ? [] : draft.found.flatMap(({ passage }) => passage ?? []);
  if (passages.length > 0) {
    const within = (frame: number) => Math.min(traced.document.crossing.length - 1, Math.max(0, frame));
    const at = passages.flatMap(({ opens, closes }) => [
      crossingFrameIn(traced, Math.max(0, opens)),
      crossingFrameIn(traced, closes),
    ]);
    const [{ direction, speed, seenOn }] = passages;
    const way = direction > 0 !== traced.layer.flip ? 'right' : 'left';
    return {
      opens: within(Math.min(...at)),
      closes: within(Math.max(...at)),
      basis: `Its edge goes to the ${way}, ${Math.round(speed)} px a frame, seen on ${seenOn.length} frames.`,
      sure: passages.every((passage) => surenessOf(passage) === 'sure') ? 'sure' : 'likely',
    };
  }
  const leads = layoutOf(traced.document.crossing.plan).edges.some(({ on }) => on === 'leading');
  const proposal = leads ? null : proposeEdge(traced.document, traced.layer, traced.shot);
  return proposal && { ...proposal, sure: 'likely' };
}

export function decideTimes(draft: Draft) {
  const traced = tracedNow();
  if (!traced) return;
  const marks = Object.values(traced.document.marks);
  if (!marks.some(({ kind }) => kind !== 'mark')) {
    const times = timesFound(draft);
    if (!times) {
      draft.leaveOpen(
        'Line up',
        'Opening and closing are not known',
        'Nothing that crosses the traced shot was found. Mark them by hand, or draw the outline.',
      );
      return;
    }
    const { opens, closes, basis, sure } = times;
    const mark = (kind: 'opens' | 'closes', name: string): MarkRow => ({
      id: newId(),
      kind,
      frame: times[kind],
      name,
    });
    const made = [mark('opens', 'Opens'), mark('closes', 'Closes')];
    const label = `Opens at ${opens}, closes at ${closes}`;
    const decision = {
      step: 'Line up',
      what: `Opens at frame ${opens}, closes at ${closes}`,
      basis,
      sure,
    } as const;
    draft.marked = made;
    draft.decide(
      label,
      made.map((row) => putMark(draft.document, row)),
      decision,
    );
  }
  const { crossing } = draft.document;
  const [opens, closes] = (['opens', 'closes'] as const).map(
    (kind) => Object.values(draft.document.marks).find((mark) => mark.kind === kind)?.frame,
  );
  if (crossing.inFrame !== 0 || crossing.outFrame !== null || opens === undefined || closes === undefined)
    return;
  const [inFrame, outFrame] = inAndOut(draft.document, opens, closes);
  if (inFrame === 0 && outFrame === crossing.length - 1) return;
  draft.decide(
    `Play frames ${inFrame} to ${outFrame}`,
    setCrossing(draft.document, { inFrame, outFrame: outFrame === crossing.length - 1 ? null : outFrame }),
    {
      step: 'Line up',
      what: `Plays frames ${inFrame} to ${outFrame}`,
      basis: 'A second before the opening and after the closing, where there is that much.',
      sure: 'sure',
    },
  );
}

export function decideSlip(draft: Draft) {
  const { document } = draft;
  const traced = tracedNow();
  const other = layersInOrder(document).find(({ role, visible }) => visible && role !== traced?.layer.role);
  const known = Object.values(document.marks).some(({ kind }) => kind === 'opens');
  if (!traced || !other || !known) return;
  const untouched =
    other.offset === plainLayer.offset &&
    other.speed === plainLayer.speed &&
    !other.reverse &&
    other.holdFrom === null &&
    other.ramp.length === 0;
  const slip = untouched ? slipped(document, shotsNow()) : null;
  if (slip && slip.changes.length > 0) {
    const { changes, ...decision } = slip;
    draft.decide(decision.what, changes, decision);
  }
}
