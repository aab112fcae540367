import {
  nextPiece,
  nudgePiece,
  splitHere,
  toggleAlone,
  toggleBehind,
  toggleMuted,
  toggleStepsHeard,
} from '../sound/sound-commands';
import { hotkey, type Shortcut, signs, when } from './shortcut';

/** Keys for pieces of sound. */
export const soundShortcuts: Shortcut[] = [
  {
    keys: 'Shift V',
    does: 'Next piece of sound',
    group: 'Sound',
    action: when(hotkey('shift+v'), () => nextPiece(1)),
  },
  {
    keys: '<  >',
    does: 'Move the piece a frame earlier, later',
    group: 'Sound',
    action: signs({ '<': () => nudgePiece(-1), '>': () => nudgePiece(1) }),
  },
  {
    keys: 'Shift X',
    does: 'Split the piece at this frame',
    group: 'Sound',
    action: when(hotkey('shift+x'), splitHere),
  },
  {
    keys: 'Shift M',
    does: 'Mute and unmute the piece',
    group: 'Sound',
    action: when(hotkey('shift+m'), toggleMuted),
  },
  {
    keys: 'Shift H',
    does: 'Hear the piece alone, and all again',
    group: 'Sound',
    action: when(hotkey('shift+h'), () => toggleAlone()),
  },
  {
    keys: 'Shift B',
    does: 'The piece behind the edge, and before it',
    group: 'Sound',
    action: when(hotkey('shift+b'), toggleBehind),
  },
  {
    keys: 'Shift G',
    does: 'Hear a frame’s sound when stepping',
    group: 'Sound',
    action: when(hotkey('shift+g'), toggleStepsHeard),
  },
];
