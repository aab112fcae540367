/** The values that fields of a crossing choose from, and how a point is written down. */

/** The kinds of crossing; a plan only sets up layers, everything can be changed afterwards. */
export const planNames = [
  'pass-by',
  'arrival',
  'bridge',
  'opening',
  'pull-back',
  'hinged leaves',
  'keyed board',
  'lingering subject',
] as const;

export type Plan = (typeof planNames)[number];

export const roles = ['outgoing', 'incoming', 'passing'] as const;

export type Role = (typeof roles)[number];

export const carriedByWays = ['edge', 'cutting'] as const;

export type CarriedBy = (typeof carriedByWays)[number];

export const outlineKinds = ['seam', 'loop'] as const;

export type OutlineKind = (typeof outlineKinds)[number];

/** What an outline is for in its crossing's plan. */
export const purposes = ['any', 'front edge', 'back edge'] as const;
export type Purpose = (typeof purposes)[number];
export const sides = ['left', 'right'] as const;

export type Side = (typeof sides)[number];

export function otherSide(side: Side): Side {
  return side === 'left' ? 'right' : 'left';
}

/** How an outline joins those before it: it enlarges what is cut, takes from it, or leaves only what lies in both. */
export const combines = ['add', 'take away', 'keep only'] as const;

export type Combine = (typeof combines)[number];

/** What a blur shows beyond a shot's borders: the pixels at the border, the picture mirrored there, or nothing. */
export const blurBorders = ['extend', 'mirror', 'transparent'] as const;
export type BlurBorder = (typeof blurBorders)[number];

/** What an outline is before its first and after its last pose: as its first or last pose, nothing, or everything. */
export const beyonds = ['empty', 'full', 'hold'] as const;

export type Beyond = (typeof beyonds)[number];

/** What an outline is beyond its poses. */
export interface Ends {
  beforeFirst: Beyond;
  afterLast: Beyond;
}

export const outlineColours = ['chalk', 'amber', 'rose', 'sky', 'lime'] as const;

export type OutlineColour = (typeof outlineColours)[number];

/** Why a carried pose is not sure. */
export const doubts = ['covered', 'soft', 'alike', 'leap', 'ends differ'] as const;

export type Doubt = (typeof doubts)[number];

export const origins = ['by hand', 'carried', 'settled'] as const;

export type Origin = (typeof origins)[number];

/** What a layer shows between two frames of its shot. */
export const betweensWays = ['nearest', 'mixed'] as const;

export type Betweens = (typeof betweensWays)[number];

export const fits = ['fill', 'fit', 'exact'] as const;

export type Fit = (typeof fits)[number];

/** Where a piece's sound comes from: a sound file, a shot from its own beginning, a layer as it runs, or Kiv's maker. */
export const pieceSources = ['file', 'shot', 'layer', 'made'] as const;

export type PieceSource = (typeof pieceSources)[number];

/** A piece's part in a crossfade. */
export const crossfades = ['none', 'goes out', 'comes in'] as const;

export const markKinds = ['mark', 'opens', 'closes'] as const;

/** The steps in which a decision of the first draft is changed. */
export const decidedIn = ['Shots', 'Line up', 'Trace', 'Edge', 'Move', 'Sound'] as const;

/** How sure a decision of the first draft is; `open`: it could not be made. */
export const surenesses = ['sure', 'likely', 'open'] as const;

export type Sureness = (typeof surenesses)[number];

/** What a stroke says of what it paints over; *open* takes back what strokes before it said. */
export const strokeMarks = ['this', 'not this', 'open'] as const;

export type StrokeMark = (typeof strokeMarks)[number];

/** Numbers of a point: x, y, then the offsets of the incoming and the outgoing handle. */
export const numbersPerPoint = 6;

/** How pictures are mixed: in display values as they are, or in light, by way of a transfer curve. */
export const blends = ['display', 'linear sRGB', 'linear BT.709'] as const;

export type Blend = (typeof blends)[number];
