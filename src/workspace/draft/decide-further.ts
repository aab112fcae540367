import { addPiece } from '@/core/actions/piece-actions';
import { markedFrame, playedRange } from '@/core/document/document';
import { layoutOf } from '@/core/document/plans';
import { passageOf } from '@/core/sound/fit';
import { push } from '../move/move-commands';
import { shotsCrossfaded, sweepPiece } from '../sound/sound-commands';
import { useView } from '../view/view-store';
import { useDraft } from './draft-store';

import type { Draft } from './draft';

/** ms between two looks whether the coverage has been measured, and for which it is waited at most. */
const [lookAgain, patience] = [100, 20_000];

export async function decideSound(draft: Draft) {
  const { sound } = useDraft.getState().options;
  if (!sound || Object.keys(draft.document.pieces).length > 0) return;
  const crossfade = shotsCrossfaded();
  if (typeof crossfade !== 'string')
    draft.decide('Crossfade the shots’ sound', crossfade.changes, {
      step: 'Sound',
      what: 'The shots’ sound crossfades with the picture',
      basis: crossfade.parts === 1 ? 'Only one of the shots has sound.' : 'Both shots have sound.',
      sure: 'sure',
    });
  if (Object.keys(draft.document.outlines).length === 0) return;
  draft.tell('Measuring what is covered');
  const passage = await edgePassage(draft);
  if (!passage || !draft.goesOn()) return;
  const piece = sweepPiece(draft.document, passage);
  if (piece)
    draft.decide('Make an air sweep', addPiece(piece), {
      step: 'Sound',
      what: `An air sweep over frames ${passage.first} to ${passage.last}`,
      basis: `Loudest where the edge is fastest, on frame ${passage.fastest}.`,
      sure: 'likely',
    });
}

/** Where the edge is in the picture, as soon as that is measured of the crossing as it is. */
async function edgePassage(draft: Draft) {
  const until = performance.now() + patience;
  // What is covered is measured anew after each change.
  await new Promise((resolve) => setTimeout(resolve, 10 * lookAgain));
  while (performance.now() < until && draft.goesOn()) {
    const { coverage } = useView.getState();
    const passage = coverage && passageOf(coverage);
    if (passage) return passage;
    await new Promise((resolve) => setTimeout(resolve, lookAgain));
  }
  return null;
}

export async function decidePush(draft: Draft) {
  const { document } = draft;
  const asked = useDraft.getState().options.push && layoutOf(document.crossing.plan).until === 'opens';
  const opens = markedFrame(document, 'opens');
  if (!asked || Object.keys(document.moves).length > 0 || opens === undefined) return;
  draft.tell('Looking for room to push in');
  const [, to] = playedRange(document);
  const refused = await push({ all: false, from: opens, to, back: false, along: 0 }, () =>
    draft.written({
      step: 'Move',
      what: `Pushes in through the opening, frames ${opens} to ${to}`,
      basis: 'Until the opening fills the frame.',
      sure: 'likely',
    }),
  );
  if (refused) draft.leaveOpen('Move', 'No push in', refused.refusal);
}
