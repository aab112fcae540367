import type { RowChange } from '@/core/document/edit';
import { type CrossingDocument, type MarkRow } from '@/core/document/tables';
import { type Decision, decisionsInOrder, forgetDecisions, noteDecision } from '@/core/draft/decisions';
import { useDocument } from '../document/document-store';
import { edit } from '../session/edit';
import { type Found } from '../trace/begin-for-me';
import { timesStopped } from '../trace/carry-store';
import { useDraft } from './draft-store';

export const newId = () => crypto.randomUUID();

/** A draft under way: what it has not been able to decide is written down with the next thing that it decides. */
export class Draft {
  /** What was found to begin with, or why nothing was. */
  found: Found[] | string = [];
  /** The marks that it has put. */
  marked: MarkRow[] = [];
  private notes: Decision[] = [];
  private decided = 0;
  private readonly crossingId = useDocument.getState().document!.crossing.id;
  private readonly stops = timesStopped();

  get document(): CrossingDocument {
    return useDocument.getState().document!;
  }

  /** Whether its crossing is still the one that is open. */
  get isHere(): boolean {
    return useDocument.getState().document?.crossing.id === this.crossingId;
  }

  /** Whether it goes on: nobody has stopped it, or left the crossing. */
  readonly goesOn = (): boolean => timesStopped() === this.stops && this.isHere;

  get anything(): boolean {
    return this.decided > 0;
  }

  /** Says what is looked at, where no progress of its own says it. */
  tell(under: string) {
    if (this.goesOn()) useDraft.setState({ under });
  }

  readonly decide = (label: string, changes: readonly RowChange[], decision: Decision): boolean =>
    edit(label, [...changes, ...this.written(decision)]);

  /** The rows that write a decision down, with what could not be decided before it; what earlier drafts left open goes. */
  readonly written = (decision: Decision | null): RowChange[] => {
    const { document } = this;
    const stale = this.decided === 0 ? decisionsInOrder(document).filter(({ sure }) => sure === 'open') : [];
    const rows = [...this.notes, ...(decision ? [decision] : [])];
    this.notes = [];
    this.decided += rows.length;
    const written = rows.map((each, k) => noteDecision(document, each, newId(), k));
    return [...forgetDecisions(stale), ...written];
  };

  leaveOpen(step: Decision['step'], what: string, basis: string) {
    this.notes.push({ step, what, basis, sure: 'open' });
  }

  /** Writes down what is still to be said. */
  end() {
    if (this.notes.length > 0) edit('Note what the draft left open', this.written(null));
  }
}
