/** What of a layer, of the whole picture or of a leaf can move, and by which numbers. */
export const channels = [
  'place',
  'size',
  'turn',
  'opacity',
  'upper-left',
  'upper-right',
  'lower-right',
  'lower-left',
  'blur-along',
  'blur-towards',
  'blur-about',
  'exposure',
  'contrast',
  'saturation',
  'warmth',
  'tint',
  'swing',
  'level',
  'low-pass',
  'high-pass',
] as const;
export type Channel = (typeof channels)[number];

/** One of a channel's numbers: its bounds, and what it is at rest. */
export interface ChannelNumber {
  low: number;
  high: number;
  rest: number;
  /** Whether it runs evenly in its logarithm. */
  logarithmic?: true;
}

const from = (low: number, high: number, rest: number): ChannelNumber => ({ low, high, rest });
const hertz = (rest: number): ChannelNumber => ({ ...from(20, 20_000, rest), logarithmic: true });
const px = from(-20_000, 20_000, 0);
const corner = [from(-4000, 4000, 0), from(-4000, 4000, 0)];

/**
 * The one to three numbers of each channel: shifts in px of the crossing, of corners in px of the shot; sizes, opacity,
 * contrast and saturation in percent; turns and directions in degrees clockwise; exposure in stops.
 */
export const channelNumbers: Readonly<Record<Channel, readonly ChannelNumber[]>> = {
  place: [px, px],
  size: [from(1, 2000, 100)],
  turn: [from(-3600, 3600, 0)],
  opacity: [from(0, 100, 100)],
  'upper-left': corner,
  'upper-right': corner,
  'lower-right': corner,
  'lower-left': corner,
  /** Length and direction. */
  'blur-along': [from(0, 1000, 0), from(-3600, 3600, 0)],
  /** How far each point goes towards or away from a point, in percent of its distance; the point from the middle. */
  'blur-towards': [from(0, 100, 0), px, px],
  /** The angle about a point, and that point from the middle. */
  'blur-about': [from(0, 90, 0), px, px],
  exposure: [from(-6, 6, 0)],
  contrast: [from(10, 300, 100)],
  saturation: [from(0, 300, 100)],
  warmth: [from(-50, 50, 0)],
  tint: [from(-50, 50, 0)],
  /** How far a leaf has swung open. */
  swing: [from(0, 180, 0)],
  /** dB; Hz, each from where it does nothing. */
  level: [from(-60, 12, 0)],
  'low-pass': [hertz(20_000)],
  'high-pass': [hertz(20)],
};

/** A leaf's channels, those of a piece of sound, and those that the whole picture has; layers have all but the first two's. */
export const leafChannels: readonly Channel[] = ['swing'];
export const soundChannels = ['level', 'low-pass', 'high-pass'] as const;
export const wholeChannels: readonly Channel[] = [
  'place',
  'size',
  'turn',
  'blur-along',
  'blur-towards',
  'blur-about',
];
export const cornerChannels = ['upper-left', 'upper-right', 'lower-right', 'lower-left'] as const;
export const blurChannels = ['blur-along', 'blur-towards', 'blur-about'] as const;
export const gradeChannels = ['exposure', 'contrast', 'saturation', 'warmth', 'tint'] as const;
