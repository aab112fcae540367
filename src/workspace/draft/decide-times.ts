import { markEdge, setCrossing } from '@/core/actions/layer-actions';
import { type EdgeProposal, proposeEdge } from '@/core/checks/proposal';
import { markedFrame } from '@/core/document/document';
import { layoutOf } from '@/core/document/plans';
import { inAndOut, slipped } from '@/core/draft/decide';
import { type Decision } from '@/core/draft/decisions';
import { longestPass, surenessOf } from '@/core/draft/plan-for';
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
      basis: `The edge moves ${way} at ${Math.round(speed)} px a frame; it was seen on ${seenOn.length} frames.`,
      sure: passages.every((passage) => surenessOf(passage) === 'sure') ? 'sure' : 'likely',
    };
  }
  const leads = layoutOf(traced.document.crossing.plan).edges.some(({ on }) => on === 'leading');
  const proposal = leads ? null : proposeEdge(traced.document, traced.layer, traced.shot);
  if (!proposal || proposal.closes - proposal.opens > longestPass) return null;
  return { ...proposal, sure: 'likely' };
}

export function decideTimes(draft: Draft) {
  const traced = tracedNow();
  if (!traced) return;
  const known = ['opens', 'closes'] as const;
  if (known.every((kind) => markedFrame(traced.document, kind) === undefined)) {
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
    const changes = markEdge(draft.document, { opens, closes }, newId);
    draft.marked = changes.flatMap(({ table, after }) => (table === 'mark' && after ? [after] : []));
    draft.decide(`Opens at ${opens}, closes at ${closes}`, changes, {
      ...{ step: 'Line up', what: `Opens at frame ${opens}, closes at ${closes}` },
      ...{ basis, sure },
    });
  }
  const { crossing } = draft.document;
  const [opens, closes] = [markedFrame(draft.document, 'opens'), markedFrame(draft.document, 'closes')];
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
      basis:
        'From one second before the opening to one second after the closing, where the shots reach that far.',
      sure: 'sure',
    },
  );
}

export function decideSlip(draft: Draft) {
  const slip = slipped(draft.document, shotsNow());
  if (!slip) return;
  const { changes, ...decision } = slip;
  draft.decide(decision.what, changes, decision);
}
