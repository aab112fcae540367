import {
  nextPiece,
  nudgePiece,
  splitHere,
  toggleAlone,
  toggleBehind,
  toggleMuted,
  toggleStepsHeard,
} from '../sound/sound-commands';
import { hotkey, plain, type Shortcut } from './shortcut';

let pieceWay: 1 | -1 = 1;

/** Keys for pieces of sound. */
export const soundShortcuts: Shortcut[] = [
  {
    keys: 'Shift V',
    does: 'Next piece of sound',
    group: 'Sound',
    matches: hotkey('shift+v'),
    run: () => nextPiece(1),
  },
  {
    keys: '<  >',
    does: 'Move the piece a frame earlier, later',
    group: 'Sound',
    matches(event) {
      pieceWay = event.key === '>' ? 1 : -1;
      return plain(event) && /^[<>]$/.test(event.key);
    },
    run: () => nudgePiece(pieceWay),
  },
  {
    keys: 'Shift X',
    does: 'Split the piece at this frame',
    group: 'Sound',
    matches: hotkey('shift+x'),
    run: splitHere,
  },
  {
    keys: 'Shift M',
    does: 'Mute the piece, and let it sound again',
    group: 'Sound',
    matches: hotkey('shift+m'),
    run: toggleMuted,
  },
  {
    keys: 'Shift H',
    does: 'Hear the piece alone, and all again',
    group: 'Sound',
    matches: hotkey('shift+h'),
    run: () => toggleAlone(),
  },
  {
    keys: 'Shift B',
    does: 'The piece behind the edge, and before it',
    group: 'Sound',
    matches: hotkey('shift+b'),
    run: toggleBehind,
  },
  {
    keys: 'Shift G',
    does: 'Hear a frame’s sound when stepping',
    group: 'Sound',
    matches: hotkey('shift+g'),
    run: toggleStepsHeard,
  },
];
