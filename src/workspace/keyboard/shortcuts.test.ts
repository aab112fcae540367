import { resetView, setView } from '../view/view-store';
import type { Shortcut } from './shortcut';
import { shortcuts } from './shortcuts';

/** The key map against itself: what is written there is what the keys do, and none hides another. */

jest.mock('../check/checks-store', () => ({ checksBegun: () => Promise.resolve(null) }));
Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

/** What the page hears. */
const heard = (key: string, held: Partial<KeyboardEvent>) =>
  ({
    ...{ key, ctrlKey: false, altKey: false, shiftKey: false, metaKey: false },
    getModifierState: () => false,
    ...held,
  }) as unknown as KeyboardEvent;

const named: Record<string, string> = {
  ...{ '→': 'ArrowRight', '←': 'ArrowLeft', '↑': 'ArrowUp', '↓': 'ArrowDown', Esc: 'Escape' },
};

/** What the page hears for keys as they are written in the map; a later one keeps the modifiers of the first. */
function eventsOf(keys: string): KeyboardEvent[] {
  const groups = keys.split(/ {2,}/).map((each) => each.split(' '));
  const modifiers = groups[0].slice(0, -1);
  return groups
    .flatMap((group) => (group.every((key) => key.length === 1) ? group.map((key) => [key]) : [group]))
    .map((group) => {
      const held = group.length > 1 ? group.slice(0, -1) : modifiers;
      const key = named[group[group.length - 1]] ?? group[group.length - 1];
      const shiftKey = held.includes('Shift');
      const sent = key.length === 1 && !shiftKey ? key.toLowerCase() : key;
      const [ctrlKey, altKey] = [held.includes('Ctrl'), held.includes('Alt')];
      return heard(sent, { ctrlKey, altKey, shiftKey });
    });
}

const pressed = (event: KeyboardEvent) => shortcuts.find(({ action }) => action(event) !== null);
const written = shortcuts.filter(({ keys }) => !/drag|press|\+12|^Space$/.test(keys));
const unheard = (list: readonly Shortcut[]) =>
  list
    .filter(({ keys, action }) => !eventsOf(keys).every((event) => action(event) !== null))
    .map(({ keys }) => keys);

beforeEach(() => resetView(0, null));

test('a key does what the map says of it, and none takes it away from another', () => {
  for (const shortcut of written)
    for (const event of eventsOf(shortcut.keys))
      if (shortcut.action(event))
        expect([shortcut.keys, pressed(event)?.does]).toEqual([shortcut.keys, shortcut.does]);
});

test('what no key reaches as the page lies there belongs to something that has to be under way', () => {
  const [taken, drawn, ...others] = unheard(written);
  // Outlines offered to be taken, a line along what should be straight.
  expect([taken, drawn]).toEqual(['Enter  Esc', 'Enter  Backspace  Esc']);
  // A brush in hand, and people to be taken.
  expect(others.sort()).toEqual(['<  >', 'Enter', 'Shift X']);
  setView({ tool: 'brush' });
  expect(unheard(written)).not.toContain('Shift X');
  setView({ tool: 'people' });
  expect(unheard(written)).not.toContain('Enter');
});

test('each line of the map is there once, says what it does, and leaves letters with Alt alone, but for those that nudge', () => {
  const lines = shortcuts.map(({ keys, does }) => `${keys}: ${does}`);
  expect(new Set(lines).size).toBe(lines.length);
  for (const key of 'bcefghijklmnopqrtuvxyz') {
    const alone = heard(key, { altKey: true });
    expect([key, pressed(alone)?.keys]).toEqual([key, undefined]);
  }
});
