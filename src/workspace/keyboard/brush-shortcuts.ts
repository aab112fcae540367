import { carryBy, keepOtherSide } from '../trace/outline-commands';
import { changeBrush, cutAnew, nextMark, takeBrush } from '../trace/painting';
import { useView } from '../view/view-store';
import { control, hotkey, type Shortcut, signs, when } from './shortcut';

/** Whether the brush is in hand: some keys are about it then. */
const painting = () => useView.getState().tool === 'brush';

/** Keys for subjects that are painted over; those of the brush come before others while it is in hand. */
export const brushShortcuts: Shortcut[] = [
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
    does: 'Cut a loop anew where it is not sure, or on the selected frames',
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
