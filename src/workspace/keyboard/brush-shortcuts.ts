import { carryBy, keepOtherSide } from '../trace/outline-commands';
import { findPeople, takePointed } from '../trace/people';
import { changeBrush, cutAnew, nextMark, takeBrush } from '../trace/painting';
import { useView } from '../view/view-store';
import { control, hotkey, type Shortcut, signs, when } from './shortcut';

/** Whether the brush is in hand: some keys are about it then. */
const painting = () => useView.getState().tool === 'brush';

/** Whether people are shown to be taken: Enter takes one then. */
const choosing = () => useView.getState().tool === 'people';

/** Keys for subjects that are found or painted over; those of the brush come before others while it is in hand. */
export const brushShortcuts: Shortcut[] = [
  {
    keys: 'Ctrl I',
    does: 'Find people on this frame; a press takes one, with Shift several',
    group: 'Brush',
    action: when(control('i'), findPeople),
  },
  {
    keys: 'Enter',
    does: 'With people found: take the one pointed at, or the only one',
    group: 'Brush',
    action: when((event) => choosing() && hotkey('enter')(event), takePointed),
  },
  {
    keys: 'Ctrl B',
    does: 'Brush: paint over a subject',
    group: 'Brush',
    action: when(control('b'), takeBrush),
  },
  {
    keys: 'Shift X',
    does: 'With the brush: next of this, not this, rub out; Alt while painting turns this round',
    group: 'Brush',
    action: when((event) => painting() && hotkey('shift+x')(event), nextMark),
  },
  {
    keys: '<  >',
    does: 'With the brush: narrower, wider (or Shift and the wheel)',
    group: 'Brush',
    action: (event) =>
      painting() ? signs({ '<': () => changeBrush(-1), '>': () => changeBrush(1) })(event) : null,
  },
  {
    keys: 'Ctrl J',
    does: 'Cut a loop again where it is unsure, or on the selected frames',
    group: 'Brush',
    action: when(control('j'), cutAnew),
  },
  {
    keys: 'Ctrl Shift J',
    does: 'Carry a loop by cutting it out, or along its edge',
    group: 'Brush',
    action: when(control('shift+j'), () => carryBy()),
  },
  {
    keys: 'Ctrl M',
    does: 'Keep what the outlines enclose, or cut it away',
    group: 'Brush',
    action: when(control('m'), keepOtherSide),
  },
];
