import { leaveOffered, offeredNow, takeOffered } from '../trace/offered';
import { hotkey, type Shortcut } from './shortcut';

let takes = true;

/** Keys for outlines that are shown before they are taken; they come before others while some are. */
export const offeredShortcuts: Shortcut[] = [
  {
    keys: 'Enter  Esc',
    does: 'Take outlines that are shown dashed, or leave them',
    group: 'Trace',
    matches(event) {
      takes = event.key === 'Enter';
      return offeredNow() !== null && hotkey('enter', 'escape')(event);
    },
    run: () => (takes ? takeOffered() : void leaveOffered()),
  },
];
