import {
  decisionMadeBy,
  type DecisionRow,
  decisionsInOrder,
  forgetDecisions,
  undoneDecision,
} from '@/core/draft/decisions';
import { sentenceOf } from '@/interface/api';
import { editsBackTo, useDocument } from '../document/document-store';
import { edit } from '../session/edit';
import { setView } from '../view/view-store';

/** Undoes one decision, and those that rest on it. Returns a sentence where it could not, or where others went along. */
export async function undoDecision({ id, what }: DecisionRow): Promise<string | null> {
  try {
    const edits = await editsBackTo((each) => decisionMadeBy(each) === id);
    const { document } = useDocument.getState();
    if (!document?.decisions[id]) return null;
    const undone = undoneDecision(document, edits, id);
    if (!undone)
      return 'Later edits of yours depend on it. Change it in its step, or undo step by step (Ctrl Z).';
    if (!edit(`Undo the draft’s “${what}”`, undone.changes)) return null;
    setView({ points: new Set(), playing: false });
    const { along } = undone;
    if (along.length === 0) return null;
    return `${along.length === 1 ? 'One decision that depends' : `${along.length} decisions that depend`} on it ${along.length === 1 ? 'was' : 'were'} undone as well. Ctrl Z brings all back.`;
  } catch (error) {
    return sentenceOf(error);
  }
}

/** Takes all decisions off the list; what they changed stays. */
export function clearDecisions() {
  const { document } = useDocument.getState();
  if (document) edit('Clear the draft’s list', forgetDecisions(decisionsInOrder(document)));
}
