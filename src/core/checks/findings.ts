/** What a finding is about. */
export type FindingDomain = 'line' | 'edge' | 'move' | 'footage' | 'sound';

/** `fault`: the result is wrong there; `doubt`: a person has to look. */
export type FindingSeverity = 'fault' | 'doubt';

interface KindOfFinding {
  domain: FindingDomain;
  severity: FindingSeverity;
}

/** What a check can have to say. */
export const findingKinds = {
  'starts cut': { domain: 'line', severity: 'fault' },
  'ends open': { domain: 'line', severity: 'fault' },
  'covered at once': { domain: 'line', severity: 'fault' },
  'end in frame': { domain: 'line', severity: 'fault' },
  'runs back': { domain: 'line', severity: 'doubt' },
  jitters: { domain: 'line', severity: 'fault' },
  'stands still': { domain: 'line', severity: 'fault' },
  folds: { domain: 'line', severity: 'fault' },
  'background peeks': { domain: 'edge', severity: 'fault' },
  'object is cut': { domain: 'edge', severity: 'fault' },
  drifts: { domain: 'edge', severity: 'fault' },
  'no edge': { domain: 'edge', severity: 'doubt' },
  'too hard': { domain: 'edge', severity: 'doubt' },
  'too soft': { domain: 'edge', severity: 'doubt' },
  'not blurred': { domain: 'edge', severity: 'doubt' },
  'blurs too much': { domain: 'edge', severity: 'doubt' },
  'runs out': { domain: 'footage', severity: 'fault' },
  'footage is missing': { domain: 'footage', severity: 'fault' },
  'border shows': { domain: 'move', severity: 'fault' },
  'frames repeat': { domain: 'move', severity: 'doubt' },
  'not at rest': { domain: 'move', severity: 'doubt' },
  enlarged: { domain: 'move', severity: 'doubt' },
  jolts: { domain: 'move', severity: 'fault' },
  'sound clips': { domain: 'sound', severity: 'fault' },
  'sound breaks off': { domain: 'sound', severity: 'fault' },
  'sound jumps': { domain: 'sound', severity: 'fault' },
  'sound is late': { domain: 'sound', severity: 'doubt' },
  'sound is missing': { domain: 'sound', severity: 'fault' },
  'silent shot': { domain: 'sound', severity: 'doubt' },
} as const satisfies Record<string, KindOfFinding>;
export type FindingKind = keyof typeof findingKinds;

/** What one press mends of an outline, each with its button's words. */
export const lineFixes = {
  'push out': 'Push it out',
  'draw out': 'Draw it out',
  'keep as posed': 'Keep it as posed',
  'flip side': 'Flip the swept side',
  'smooth pose': 'Smooth it',
  'remove poses': 'Remove the pose',
  'put on edge': 'Put it on the edge',
  'pose on edge': 'Make a pose on the edge',
  'match softness': 'Match the picture',
  'blur with movement': 'Blur with the movement',
  'blur as picture': 'Blur as the picture does',
} as const;
/** What one press mends of moves and speed. */
export const moveFixes = {
  enlarge: 'Enlarge it',
  'bring to rest': 'Bring it to rest',
  'smooth jolt': 'Smooth it',
  'mix frames': 'Mix its frames',
} as const;
/** What one press mends of sound. */
export const soundFixes = {
  'turn down': 'Turn all down',
  'fade in': 'Fade it in',
  'fade out': 'Fade it out',
} as const;
export type LineFix = keyof typeof lineFixes;
export type MoveFix = keyof typeof moveFixes;
export type SoundFix = keyof typeof soundFixes;
export type Fix = LineFix | MoveFix | SoundFix;

export const fixLabels: Readonly<Record<Fix, string>> = { ...lineFixes, ...moveFixes, ...soundFixes };
export const isLineFix = (fix: Fix): fix is LineFix => fix in lineFixes;
export const isMoveFix = (fix: Fix): fix is MoveFix => fix in moveFixes;
export const isSoundFix = (fix: Fix): fix is SoundFix => fix in soundFixes;

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
  /** What one press mends it by; null where only a hand can. */
  fix: Fix | null;
}

/** By frame; on one frame faults come before doubts. */
export function findingsInOrder(findings: readonly Finding[]): Finding[] {
  const doubtful = ({ kind }: Finding) => Number(findingKinds[kind].severity === 'doubt');
  return [...findings].sort(
    (a, b) => a.from - b.from || doubtful(a) - doubtful(b) || a.kind.localeCompare(b.kind),
  );
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
