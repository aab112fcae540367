import { sentenceOf } from '@/interface/api';
import { goTo } from '../session/go-to';
import { tracedNow } from '../session/traced';
import { busyNow, useCarry } from '../trace/carry-store';
import { measuringMovement } from '../trace/movement';
import { showView } from '../view/show';
import { setView } from '../view/view-store';
import { useDraft } from './draft-store';

import { Draft } from './draft';
import { decidePlan } from './decide-plan';
import { decideSlip, decideTimes } from './decide-times';
import { decideEdges, decideSoftness } from './decide-edges';
import { decidePush, decideSound } from './decide-further';

/**
 * Makes the first draft of a crossing: plan, opening and closing, what is played, where the other shot lies, the traced edge, its
 * softness, and by choice sound and a push. What is there already stays; what cannot be decided is said.
 *
 * @returns a sentence where nothing could be done at all.
 */
export async function draftIt(): Promise<string | null> {
  const busy = busyNow();
  if (busy ?? useDraft.getState().under) return busy ?? 'The draft is still under way; Esc stops it.';
  if (!tracedNow()) return 'Choose an outgoing shot first.';
  const draft = new Draft();
  setView({ step: 'Draft', playing: false });
  useDraft.setState({ under: measuringMovement, says: null });
  useCarry.setState({ says: null });
  let failed = false;
  try {
    for (const part of [
      decidePlan,
      decideTimes,
      decideSlip,
      decideEdges,
      decideSoftness,
      decideSound,
      decidePush,
    ]) {
      await part(draft);
      if (!draft.goesOn()) break;
    }
  } catch (error) {
    failed = true;
    // What is asked of another crossing by now is none of this one's.
    if (draft.isHere)
      useDraft.setState({ says: `The draft stopped: ${sentenceOf(error)} What is done stays.` });
  } finally {
    if (draft.goesOn()) {
      draft.end();
      if (!failed) showIt(draft);
    } else if (draft.isHere && !failed)
      useDraft.setState({ says: 'Stopped. What is done stays; the next draft goes on from here.' });
    if (draft.isHere) useDraft.setState({ under: null });
  }
  return null;
}

/** Shows the result from where it is played. */
function showIt(draft: Draft) {
  if (!draft.anything) {
    useDraft.setState({
      says: 'Everything a draft decides is already there. Nothing was changed.',
    });
    return;
  }
  setView({ points: new Set(), step: 'Draft' });
  showView('result');
  if (Object.keys(draft.document.outlines).length === 0) return;
  goTo(draft.document.crossing.inFrame);
}
