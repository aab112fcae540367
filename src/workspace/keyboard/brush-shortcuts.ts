import { carryBy, keepOtherSide } from '../trace/outline-commands';
import { changeBrush, cutAnew, nextMark, takeBrush } from '../trace/painting';
import { useView } from '../view/view-store';
import { control, hotkey, plain, type Shortcut } from './shortcut';

/** Whether the brush is in hand: some keys are about it then. */
const painting = () => useView.getState().tool === 'brush';
let wider: 1 | -1 = 1;

/** Keys for subjects that are painted over; those of the brush come before others while it is in hand. */
export const brushShortcuts: Shortcut[] = [
  {
    keys: 'Ctrl B',
    does: 'Brush: paint over a subject',
    group: 'Brush',
    matches: control('b'),
    run: takeBrush,
  },
  {
    keys: 'Shift X',
    does: 'With the brush: next of this, not this, rub out; Alt while painting turns this round',
    group: 'Brush',
    matches: (event) => painting() && hotkey('shift+x')(event),
    run: nextMark,
  },
  {
    keys: '<  >',
    does: 'With the brush: narrower, wider (or Shift and the wheel)',
    group: 'Brush',
    matches(event) {
      wider = event.key === '>' ? 1 : -1;
      return painting() && plain(event) && /^[<>]$/.test(event.key);
    },
    run: () => changeBrush(wider),
  },
  {
    keys: 'Ctrl J',
    does: 'Cut a loop anew where it is not sure, or on the selected frames',
    group: 'Brush',
    matches: control('j'),
    run: cutAnew,
  },
  {
    keys: 'Ctrl Shift J',
    does: 'Carry a loop by cutting it out, or along its edge',
    group: 'Brush',
    matches: control('shift+j'),
    run: () => carryBy(),
  },
  {
    keys: 'Ctrl M',
    does: 'Keep what the outlines enclose, or cut it away',
    group: 'Brush',
    matches: control('m'),
    run: keepOtherSide,
  },
];
