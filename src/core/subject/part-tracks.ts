import type { SubjectPart } from './subject-parts';

/** Frames for which a part that is not found goes along before it has left. */
const patience = 2;
/** Frames on which a part that came to be must be found to be worth an outline, unless it is still there at the end. */
const leastFrames = 3;

/** The further parts of a subject that is carried: those that came to be get a name, those that are gone are left out. */
export class PartTracks {
  private readonly lostFor = new Map<string, number>();

  /** @param parts as they lie on a frame; those that came to be there have no id. */
  on(frame: number, parts: readonly SubjectPart[]): SubjectPart[] {
    return parts.flatMap((part, k) => {
      const id = part.id || `began on ${frame}, ${k}`;
      const lost = part.lost ? (this.lostFor.get(id) ?? 0) + 1 : 0;
      this.lostFor.set(id, lost);
      return lost > patience ? [] : [{ ...part, id }];
    });
  }
}

/** Poses in the order in which they were made, without parts that were there too briefly, and without those that had left already. */
export function withoutBriefParts<P extends { parts: readonly SubjectPart[] }>(poses: readonly P[]): P[] {
  const last = poses.length - 1;
  const known = new Map<string, { found: number; lastFound: number }>();
  poses.forEach(({ parts }, at) => {
    for (const { id, lost } of parts) {
      const track = known.get(id) ?? { found: 0, lastFound: -1 };
      known.set(id, lost ? track : { found: track.found + 1, lastFound: at });
    }
  });
  const stays = ({ id, began }: SubjectPart, at: number) => {
    const { found, lastFound } = known.get(id)!;
    return at <= lastFound && (!began || found >= leastFrames || lastFound === last);
  };
  return poses.map((pose, at) => ({ ...pose, parts: pose.parts.filter((part) => stays(part, at)) }));
}
