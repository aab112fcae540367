import type { Channel } from '@/core/model/channels';

/** A channel in words: its name, and what each of its numbers is called and counted in. */
interface Words {
  name: string;
  numbers: readonly (readonly [label: string, unit?: string])[];
}

const corner = (name: string, arrow: string): Words => ({
  name: `${name} corner`,
  numbers: [[`${arrow} across, px`], [`${arrow} down, px`]],
});

export const channelWords: Readonly<Record<Channel, Words>> = {
  place: { name: 'Place', numbers: [['Across, px'], ['Down, px']] },
  size: { name: 'Size', numbers: [['Size', '%']] },
  turn: { name: 'Turn', numbers: [['Turn', '°']] },
  opacity: { name: 'Opacity', numbers: [['Opacity', '%']] },
  'upper-left': corner('Upper left', '↖'),
  'upper-right': corner('Upper right', '↗'),
  'lower-right': corner('Lower right', '↘'),
  'lower-left': corner('Lower left', '↙'),
  'blur-along': {
    name: 'Blur along',
    numbers: [['Along, px'], ['Direction', '°']],
  },
  'blur-towards': { name: 'Blur towards a point', numbers: [['Towards', '%'], ['x, px'], ['y, px']] },
  'blur-about': { name: 'Blur about a point', numbers: [['About', '°'], ['x, px'], ['y, px']] },
  exposure: { name: 'Exposure', numbers: [['Exposure', 'stops']] },
  contrast: { name: 'Contrast', numbers: [['Contrast', '%']] },
  saturation: { name: 'Saturation', numbers: [['Saturation', '%']] },
  warmth: { name: 'Warmth', numbers: [['Warmth']] },
  tint: { name: 'Tint', numbers: [['Tint']] },
  swing: { name: 'Swing', numbers: [['Swing', '°']] },
  level: { name: 'Level', numbers: [['Level', 'dB']] },
  'low-pass': { name: 'Low-pass', numbers: [['Low-pass', 'Hz']] },
  'high-pass': { name: 'High-pass', numbers: [['High-pass', 'Hz']] },
};
