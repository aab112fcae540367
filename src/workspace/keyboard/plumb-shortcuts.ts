import { endLine, endPlumb, plumbBack, plumbBegun } from '../line-up/plumb';
import { hotkey, type Shortcut } from './shortcut';

let does: () => void = endLine;

/** Keys while lines are drawn along what should be straight; they come before others meanwhile. */
export const plumbShortcuts: Shortcut[] = [
  {
    keys: 'Enter  Backspace  Esc',
    does: 'While lines are drawn along what is straight: end the line, take back, leave',
    group: 'Line up',
    matches(event) {
      if (!plumbBegun() || !hotkey('enter', 'backspace', 'escape')(event)) return false;
      does = { Enter: endLine, Backspace: plumbBack }[event.key] ?? endPlumb;
      return true;
    },
    run: () => does(),
  },
];
