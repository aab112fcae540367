/** What a check can have to say. */
export type FindingKind =
  | 'starts cut'
  | 'ends open'
  | 'end in frame'
  | 'runs back'
  | 'jitters'
  | 'stands still'
  | 'background peeks'
  | 'object is cut'
  | 'drifts'
  | 'no edge'
  | 'too hard'
  | 'too soft'
  | 'not blurred'
  | 'blurs too much'
  | 'runs out'
  | 'folds'
  | 'footage is missing'
  | 'border shows'
  | 'frames repeat'
  | 'not at rest'
  | 'enlarged'
  | 'jolts'
  | 'sound clips'
  | 'sound breaks off'
  | 'sound jumps'
  | 'sound is late'
  | 'sound is missing'
  | 'silent shot';

/** What a check has to say of a frame or a stretch of frames. */
export interface Finding {
  kind: FindingKind;
  /** The outline it is about; null where it is about the crossing. */
  outlineId: string | null;
  /** The piece of sound it is about. */
  pieceId?: string;
  /** First and last crossing frame, and the one where it is worst. */
  from: number;
  to: number;
  worst: number;
  /** What was found, with its measure, in a sentence. */
  says: string;
  /** Where it is worst, px of the traced shot; null: nowhere in particular. */
  place: readonly [x: number, y: number] | null;
  /** What the one press that mends it is called; null where only a hand can. */
  fix: string | null;
}

/** A measure at one frame that is out of bounds. */
export interface Hit {
  frame: number;
  measure: number;
  place?: readonly [number, number];
}

/** Hits on neighbouring frames as one stretch each, with the largest measure first said of it. */
export function stretches(hits: readonly Hit[], gap = 1): (Hit & { from: number; to: number })[] {
  const found: (Hit & { from: number; to: number })[] = [];
  for (const hit of [...hits].sort((a, b) => a.frame - b.frame)) {
    const last = found[found.length - 1];
    if (last && hit.frame - last.to <= gap) {
      last.to = hit.frame;
      if (Math.abs(hit.measure) > Math.abs(last.measure)) Object.assign(last, hit);
    } else {
      found.push({ ...hit, from: hit.frame, to: hit.frame });
    }
  }
  return found;
}

export function framesPhrase({ from, to }: { from: number; to: number }): string {
  return from === to ? `Frame ${from}` : `Frames ${from} to ${to}`;
}
