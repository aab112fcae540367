import { cutsByPicture } from '../document/document';
import type { CrossingDocument } from '../document/tables';

/** What the checks amount to: a tick means that everything was judged and held. */
export interface Verdict {
  holds: boolean;
  /** In a few words. */
  note: string;
  /** What was not judged and why, a sentence each. */
  unjudged: string[];
}

/**
 * @param found how many findings there are.
 * @param looked whether every frame was looked at since the last change.
 * @param tooBroken outlines whose edge the picture does not show clearly enough.
 */
export function verdictOf(
  document: CrossingDocument,
  { found, looked, tooBroken }: { found: number; looked: boolean; tooBroken: readonly string[] },
): Verdict {
  const outlines = Object.values(document.outlines);
  const drawn = outlines.filter(({ id }) => (document.poses[id] ?? []).length > 0);
  const chromas = Object.keys(document.chromas).length;
  if (drawn.length === 0 && !cutsByPicture(document))
    return { holds: false, note: 'Nothing to check yet', unjudged: [] };
  const hidden = drawn.filter(({ layerId }) => !document.layers[layerId]?.visible);
  const unjudged = [
    ...tooBroken
      .filter((id) => document.outlines[id])
      .map(
        (id) =>
          `${document.outlines[id].name}: its edge is too broken up in the picture to judge where the line should lie. Look at the contact sheet.`,
      ),
    ...hidden.map(({ name }) => `${name}: its layer is hidden, so it was not looked at.`),
    ...(chromas > 0 ? ['The edge of the keyed colour is not judged: look at its matte (M).'] : []),
    ...(Object.values(document.layers).some(({ matteId }) => matteId !== null)
      ? ['The edge of a matte that was brought in is not judged: look at it (M).']
      : []),
  ];
  if (!looked) return { holds: false, note: 'Looking…', unjudged };
  if (found > 0) return { holds: false, note: `${found} ${found === 1 ? 'finding' : 'findings'}`, unjudged };
  if (unjudged.length > 0) return { holds: false, note: 'Nothing found, not all judged', unjudged };
  return { holds: true, note: 'Nothing found', unjudged };
}
