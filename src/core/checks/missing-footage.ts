import { layersInOrder, playedRange, shotIdsOf } from '../document/document';
import type { CrossingDocument } from '../document/tables';
import type { Finding } from './findings';

/**
 * Layers that are seen and whose shot, or whose matte, was deleted: a grey picture stands in its place.
 *
 * @param deleted names of the shots that were deleted, by their ids.
 */
export function missingFootage(
  document: CrossingDocument,
  deleted: Readonly<Record<string, string>>,
): Finding[] {
  const [first, last] = playedRange(document);
  return layersInOrder(document)
    .filter(({ visible }) => visible)
    .flatMap((layer) => shotIdsOf(layer).filter((id) => id in deleted))
    .map((id) => ({
      kind: 'footage is missing',
      ...{ outlineId: null, from: first, to: last, worst: first, place: null, fix: null },
      says: `“${deleted[id]}” was deleted from the footage; a grey picture stands in its place. Choose another shot for its layer in step Shots, or undo to before it.`,
    }));
}
