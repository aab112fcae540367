import { LRUCache } from 'lru-cache';
import type { CrossingDocument } from '@/core/document/tables';
import { readDocument } from './document-rows';

/** Documents as they were read or written last, with the revision that they are of. */
const openDocuments = new LRUCache<string, { revision: number; document: CrossingDocument }>({ max: 8 });

/** The document as the database holds it: from memory where the database's revision proves it. */
export function documentAt(id: string, revision: number): CrossingDocument {
  const held = openDocuments.get(id);
  if (held?.revision === revision) return held.document;
  const document = readDocument(id);
  openDocuments.set(id, { revision, document });
  return document;
}

/** Keeps what has been written, now that the database proves it. */
export function keepDocument(id: string, revision: number, document: CrossingDocument) {
  openDocuments.set(id, { revision, document });
}

export function forgetDocument(id: string) {
  openDocuments.delete(id);
}
