import { endLine, endPlumb, plumbBack, plumbBegun } from '../line-up/plumb';
import { hotkey, type Shortcut } from './shortcut';

/** Keys while lines are drawn along what should be straight; they come before others meanwhile. */
export const plumbShortcuts: Shortcut[] = [
  {
    keys: 'Enter  Backspace  Esc',
    does: 'While lines are drawn along what is straight: end the line, take back, leave',
    group: 'Line up',
    action(event) {
      if (!plumbBegun() || !hotkey('enter', 'backspace', 'escape')(event)) return null;
      return { Enter: endLine, Backspace: plumbBack }[event.key] ?? endPlumb;
    },
  },
];
