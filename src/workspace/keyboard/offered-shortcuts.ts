import { leaveOffered, offeredNow, takeOffered } from '../trace/offered';
import { hotkey, type Shortcut } from './shortcut';

/** Keys for outlines that are shown before they are taken; they come before others while some are. */
export const offeredShortcuts: Shortcut[] = [
  {
    keys: 'Enter  Esc',
    does: 'Take outlines that are shown dashed, or leave them',
    group: 'Trace',
    action(event) {
      if (offeredNow() === null || !hotkey('enter', 'escape')(event)) return null;
      return event.key === 'Enter' ? takeOffered : () => void leaveOffered();
    },
  },
];
