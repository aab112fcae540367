import { isKeyHotkey } from 'is-hotkey';
import type { StepName } from '../view/view-store';

/** One line of the key map: the keys as shown, what they do, and what a key event means. */
export interface Shortcut {
  keys: string;
  does: string;
  group: 'Frames' | 'Picture' | 'Line up' | 'Trace' | 'Brush' | 'Move' | 'Sound' | 'Edits';
  /** The step in whose panel its progress and what comes of it are seen: it opens. */
  opens?: StepName;
  /** What a key event means; null: nothing here. Looks, and changes nothing: only what it returns does. */
  action(event: KeyboardEvent): Action | null;
}

/** Does what was meant; returns a sentence when nothing could be done. */
export type Action = () => string | null | void | Promise<string | null>;

/** Whether an event is one of these key combinations, as the library writes them: `shift+n`, `home`. */
export const hotkey = (...combinations: string[]) => isKeyHotkey(combinations);
/** With Ctrl, or the command key where there is one. */
export const control = (rest: string) => hotkey(`ctrl+${rest}`, `meta+${rest}`);
export const plain = (event: KeyboardEvent) => !event.ctrlKey && !event.metaKey && !event.altKey;

/** One action for all events that match. */
export const when =
  (matches: (event: KeyboardEvent) => boolean, action: Action): Shortcut['action'] =>
  (event) =>
    matches(event) ? action : null;
/** An action for each of some characters, however the keyboard makes them. */
export const signs =
  (actions: Readonly<Record<string, Action>>): Shortcut['action'] =>
  (event) =>
    plain(event) ? (actions[event.key] ?? null) : null;
/** A line of the map that no key of its own stands behind. */
export const noKey: Shortcut['action'] = () => null;
