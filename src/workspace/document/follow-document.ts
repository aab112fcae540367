import type { CrossingDocument } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { onDocumentChange, useDocument } from './document-store';

/** A worker that holds the document, too. */
interface Follower {
  change(changes: RowChange[]): Promise<unknown>;
  replaceDocument(document: CrossingDocument): Promise<unknown>;
}

/**
 * Lets a worker hear of every change. An edit that it cannot take, as when one before it was lost, is answered by the
 * whole document as it is by then.
 *
 * @param onFailure told when it cannot take that either.
 * @returns what ends it.
 */
export function followDocument(worker: Follower, onFailure: (error: Error) => void): () => void {
  let ended = false;
  const fail = (error: Error) => !ended && onFailure(error);
  const takeWhole = async () => {
    const { document } = useDocument.getState();
    if (!ended && document) await worker.replaceDocument(document);
  };
  const stop = onDocumentChange((change) => {
    if ('changes' in change) worker.change([...change.changes]).catch(() => takeWhole().catch(fail));
    else worker.replaceDocument(change.document).catch(fail);
  });
  return () => {
    ended = true;
    stop();
  };
}
