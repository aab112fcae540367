import { markEdge } from '@/core/actions/layer-actions';
import { edgeRange } from '@/core/checks/belonging';
import { applyChanges, markedFrame, playedRange } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import { inAndOut } from '@/core/draft/decide';

/**
 * A crossing with opening and closing marked, where somebody has marked them or what is covered shows them.
 *
 * @param coverage share of the frame that is covered, 0 to 1, by crossing frame; null: not known.
 */
export function withTimes(document: CrossingDocument, coverage: ArrayLike<number> | null): CrossingDocument {
  if (!coverage || (['opens', 'closes'] as const).some((kind) => markedFrame(document, kind) !== undefined))
    return document;
  const shares = Array.from(coverage);
  const opens = shares.findIndex((share) => share > shares[0]);
  const end = shares.at(-1)!;
  const closes = shares.length - [...shares].reverse().findIndex((share) => share !== end);
  if (opens < 0 || closes <= opens || closes >= shares.length) return document;
  return applyChanges(
    document,
    markEdge(document, { opens, closes }, () => crypto.randomUUID()),
  );
}

/** What is compared: from a second before the opening to a second after the closing, of what is played. */
export function rangeAbout(document: CrossingDocument): [first: number, last: number] {
  const [first, last] = playedRange(document);
  const [from, to] = inAndOut(document, ...edgeRange(document));
  return [Math.max(first, from), Math.min(last, to)];
}
