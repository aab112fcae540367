import { isKeyHotkey } from 'is-hotkey';

/** One line of the key map: the keys as shown, what they do, and how a key event is recognised. */
export interface Shortcut {
  keys: string;
  does: string;
  group: 'Frames' | 'Picture' | 'Line up' | 'Trace' | 'Brush' | 'Move' | 'Sound' | 'Edits';
  matches(event: KeyboardEvent): boolean;
  /** Returns a sentence when nothing could be done. */
  run(): string | null | void | Promise<string | null>;
}

/** Whether an event is one of these key combinations, as the library writes them: `shift+n`, `home`. */
export const hotkey = (...combinations: string[]) => isKeyHotkey(combinations);
/** With Ctrl, or the command key where there is one. */
export const control = (rest: string) => hotkey(`ctrl+${rest}`, `meta+${rest}`);
export const plain = (event: KeyboardEvent) => !event.ctrlKey && !event.metaKey && !event.altKey;
