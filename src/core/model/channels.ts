/**
 * What can have keys: of a layer, of the whole picture, of a leaf, of a piece of sound. All that is to say of a channel is
 * its line here: bounds, rest, who has it, and the group by which it is composed and shown. Its words on screen stand in
 * the workspace, and a new group does not compile until its panel, lanes and composing are there.
 */

/** One of a channel's numbers: its bounds, and what it is at rest. */
export interface ChannelNumber {
  low: number;
  high: number;
  rest: number;
  /** Whether it runs evenly in its logarithm. */
  logarithmic?: true;
}

/** What can own keys. */
export type KeyOwner = 'layer' | 'whole' | 'leaf' | 'piece';

interface DescribedChannel {
  group: 'placement' | 'opacity' | 'corners' | 'blur' | 'grade' | 'leaf' | 'sound';
  owners: readonly KeyOwner[];
  /** One to three. */
  numbers: readonly ChannelNumber[];
}

const from = (low: number, high: number, rest: number): ChannelNumber => ({ low, high, rest });
const hertz = (rest: number): ChannelNumber => ({ ...from(20, 20_000, rest), logarithmic: true });
const px = from(-20_000, 20_000, 0);

const placement = { group: 'placement', owners: ['layer', 'whole'] } as const;
const corner = {
  group: 'corners',
  owners: ['layer'],
  numbers: [from(-4000, 4000, 0), from(-4000, 4000, 0)],
} as const;
const blur = { group: 'blur', owners: ['layer', 'whole'] } as const;
const grade = { group: 'grade', owners: ['layer'] } as const;
const sound = { group: 'sound', owners: ['piece'] } as const;

/**
 * Every channel. Shifts in px of the crossing, of corners in px of the shot; sizes, opacity, contrast and saturation in
 * percent; turns and directions in degrees clockwise; exposure in stops.
 */
export const describedChannels = {
  place: { ...placement, numbers: [px, px] },
  size: { ...placement, numbers: [from(1, 2000, 100)] },
  turn: { ...placement, numbers: [from(-3600, 3600, 0)] },
  opacity: { group: 'opacity', owners: ['layer'], numbers: [from(0, 100, 100)] },
  'upper-left': corner,
  'upper-right': corner,
  'lower-right': corner,
  'lower-left': corner,
  /** Length and direction. */
  'blur-along': { ...blur, numbers: [from(0, 1000, 0), from(-3600, 3600, 0)] },
  /** How far each point goes towards or away from a point, in percent of its distance; the point from the middle. */
  'blur-towards': { ...blur, numbers: [from(0, 100, 0), px, px] },
  /** The angle about a point, and that point from the middle. */
  'blur-about': { ...blur, numbers: [from(0, 90, 0), px, px] },
  exposure: { ...grade, numbers: [from(-6, 6, 0)] },
  contrast: { ...grade, numbers: [from(10, 300, 100)] },
  saturation: { ...grade, numbers: [from(0, 300, 100)] },
  warmth: { ...grade, numbers: [from(-50, 50, 0)] },
  tint: { ...grade, numbers: [from(-50, 50, 0)] },
  /** How far a leaf has swung open. */
  swing: { group: 'leaf', owners: ['leaf'], numbers: [from(0, 180, 0)] },
  /** dB; Hz, each from where it does nothing. */
  level: { ...sound, numbers: [from(-60, 12, 0)] },
  'low-pass': { ...sound, numbers: [hertz(20_000)] },
  'high-pass': { ...sound, numbers: [hertz(20)] },
} as const satisfies Record<string, DescribedChannel>;
export type Channel = keyof typeof describedChannels;
export type ChannelGroup = DescribedChannel['group'];
/** The channels of a group. */
export type ChannelOf<G extends ChannelGroup> = {
  [C in Channel]: (typeof describedChannels)[C]['group'] extends G ? C : never;
}[Channel];

export const channels = Object.keys(describedChannels) as Channel[];

function channelsOf<G extends ChannelGroup>(group: G): readonly ChannelOf<G>[] {
  return channels.filter((channel) => describedChannels[channel].group === group) as ChannelOf<G>[];
}

/** The numbers of each channel. */
export const channelNumbers: Readonly<Record<Channel, readonly ChannelNumber[]>> = Object.fromEntries(
  channels.map((channel) => [channel, describedChannels[channel].numbers]),
) as never;

export const placementChannels = channelsOf('placement');
/** Clockwise from the upper left. */
export const cornerChannels = channelsOf('corners');
export const blurChannels = channelsOf('blur');
export const gradeChannels = channelsOf('grade');
export const leafChannels = channelsOf('leaf');
export const soundChannels = channelsOf('sound');

/** Whether such an owner can have keys of a channel. */
export function ownsChannel(owner: KeyOwner, channel: Channel): boolean {
  return (describedChannels[channel].owners as readonly KeyOwner[]).includes(owner);
}
