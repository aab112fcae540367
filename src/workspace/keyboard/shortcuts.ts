import { flipSide, nextDrawnBy, nudge, removeSelectedPoints, selectAllPoints } from '../trace/commands';
import {
  nextBoth,
  nextView,
  showFullSize,
  showView,
  toggleFullPicture,
  toggleNarrowSheet,
} from '../view/show';
import { goTo, goToPose, step } from '../session/go-to';
import { beginForMe } from '../trace/begin-for-me';
import { copyPoseHere, halve, pastePoseHere, poseHere, removePoseHere } from '../trace/pose-commands';
import { carryAllOn } from '../trace/carry-all';
import { carryOn, carryOne, nextUnsure, settle, stopCarrying, useCarry } from '../trace/carry-store';
import { useDocument } from '../document/document-store';
import { draftIt } from '../draft/draft-it';
import { useDraft } from '../draft/draft-store';
import { togglePointKind } from '../trace/outline-commands';
import { acceptProposal, stopMeasuring } from '../line-up/motion-store';
import { goToMark, markFrame, nextLayer, setRangeHere, slip, trimHere } from '../line-up/lining-up';
import {
  copySelectedKeys,
  goToMoveKey,
  keyPlaceAndSize,
  nextLane,
  pasteKeys,
  removeSelectedKeys,
} from '../move/move-commands';
import { copyPieceInHand, pastePiece, removePieceInHand } from '../sound/sound-commands';
import { setView, useView } from '../view/view-store';
import { type Action, control, hotkey, noKey, plain, type Shortcut, signs, when } from './shortcut';
import { brushShortcuts } from './brush-shortcuts';
import { offeredShortcuts } from './offered-shortcuts';
import { plumbShortcuts } from './plumb-shortcuts';
import { soundShortcuts } from './sound-shortcuts';

const directions: Record<string, [number, number]> = { w: [0, -1], a: [-1, 0], s: [0, 1], d: [1, 0] };

/** Whether step Sound is open: its piece is what some keys are about then. */
const sounding = () => useView.getState().step === 'Sound';

/** Ctrl, or the command key, with an arrow to the right or to the left. */
const carryKey =
  (shift: boolean, carry: (way: 1 | -1) => ReturnType<Action>): Shortcut['action'] =>
  (event) => {
    const way = ({ ArrowRight: 1, ArrowLeft: -1 } as const)[event.key as 'ArrowRight'];
    const held = !event.altKey && event.shiftKey === shift && (event.ctrlKey || event.metaKey);
    return way && held ? () => carry(way) : null;
  };

/** Brackets, which some keyboards have with AltGr. */
const bracket =
  (actions: Readonly<Record<string, Action>>): Shortcut['action'] =>
  (event) =>
    plain(event) || event.getModifierState('AltGraph') ? (actions[event.key] ?? null) : null;

/** All keys, in the order of the key map. */
export const shortcuts: Shortcut[] = [
  ...offeredShortcuts,
  ...plumbShortcuts,
  ...brushShortcuts,
  {
    keys: '→  ↓',
    does: 'Next frame',
    group: 'Frames',
    action: when(hotkey('arrowright', 'arrowdown', 'shift+arrowright', 'shift+arrowdown'), () => step(1)),
  },
  {
    keys: '←  ↑',
    does: 'Previous frame',
    group: 'Frames',
    action: when(hotkey('arrowleft', 'arrowup', 'shift+arrowleft', 'shift+arrowup'), () => step(-1)),
  },
  { keys: 'Home', does: 'First frame', group: 'Frames', action: when(hotkey('home'), () => goTo(0)) },
  { keys: 'End', does: 'Last frame', group: 'Frames', action: when(hotkey('end'), () => goTo(Infinity)) },
  { keys: 'N', does: 'Later pose', group: 'Frames', action: when(hotkey('n'), () => goToPose(1)) },
  {
    keys: 'Shift N',
    does: 'Earlier pose',
    group: 'Frames',
    action: when(hotkey('shift+n'), () => goToPose(-1)),
  },
  {
    keys: '+12, −12, 120',
    does: 'Type a jump, a frame or a timecode, then Enter',
    group: 'Frames',
    action: noKey,
  },
  { keys: 'Space', does: 'Play and pause', group: 'Frames', action: noKey },
  { keys: 'P', does: 'Plain picture', group: 'Picture', action: when(hotkey('p'), () => showView('plain')) },
  { keys: 'K', does: 'Cut', group: 'Picture', action: when(hotkey('k'), () => showView('cut')) },
  { keys: 'M', does: 'Matte', group: 'Picture', action: when(hotkey('m'), () => showView('matte')) },
  { keys: 'R', does: 'Result', group: 'Picture', action: when(hotkey('r'), () => showView('result')) },
  {
    keys: 'B',
    does: 'Checkerboard',
    group: 'Picture',
    action: when(hotkey('b'), () => showView('checkerboard')),
  },
  {
    keys: 'V',
    does: 'Both shots: overlay, difference, beside, split',
    group: 'Picture',
    action: when(hotkey('v'), nextBoth),
  },
  {
    keys: 'Shift F',
    does: 'Full picture: fold both columns away, and back',
    group: 'Picture',
    action: when(hotkey('shift+f'), toggleFullPicture),
  },
  {
    keys: 'Shift Q',
    does: 'Sheet narrow, without pictures, and wide',
    group: 'Picture',
    action: when(hotkey('shift+q'), toggleNarrowSheet),
  },
  { keys: 'Q', does: 'Next view', group: 'Picture', action: when(hotkey('q'), () => nextView(1)) },
  {
    keys: 'G',
    does: 'Neighbouring poses (onion skin)',
    group: 'Picture',
    action: when(hotkey('g'), () => setView({ onion: !useView.getState().onion })),
  },
  {
    keys: 'Shift P',
    does: 'Loupe at the pointer, with a grid of pixels',
    group: 'Picture',
    action: when(hotkey('shift+p'), () => setView({ loupe: !useView.getState().loupe })),
  },
  {
    keys: 'Z',
    does: 'Whole frame',
    group: 'Picture',
    action: when(hotkey('z'), () => setView({ camera: null })),
  },
  {
    keys: 'Shift Z',
    does: 'One pixel to one (100 %)',
    group: 'Picture',
    action: when(hotkey('shift+z'), showFullSize),
  },
  {
    keys: 'Space + drag',
    does: 'Move the picture; the wheel zooms',
    group: 'Picture',
    action: noKey,
  },
  {
    keys: 'Alt ↓  Alt ↑',
    does: 'Slip the shot in hand a frame later, earlier (Shift: 10)',
    group: 'Line up',
    action(event) {
      const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (!way || !event.altKey || event.ctrlKey || event.metaKey) return null;
      return () => slip(way * (event.shiftKey ? 10 : 1));
    },
  },
  { keys: 'H', does: 'Next shot in hand', group: 'Line up', action: when(hotkey('h'), nextLayer) },
  {
    keys: '[  ]',
    does: 'Set in, set out here',
    group: 'Line up',
    action: bracket({ '[': () => setRangeHere('in'), ']': () => setRangeHere('out') }),
  },
  {
    keys: '{  }',
    does: 'Trim the start, the end of the shot in hand here',
    group: 'Line up',
    action: bracket({ '{': () => trimHere('start'), '}': () => trimHere('end') }),
  },
  {
    keys: 'T',
    does: 'Mark this frame',
    group: 'Line up',
    action: when(hotkey('t'), () => void markFrame('mark')),
  },
  {
    keys: 'Shift T',
    does: 'Next mark',
    group: 'Line up',
    action: when(hotkey('shift+t'), () => goToMark(1)),
  },
  {
    keys: 'U',
    does: 'The edge opens here',
    group: 'Line up',
    action: when(hotkey('u'), () => void markFrame('opens')),
  },
  {
    keys: 'Shift U',
    does: 'The edge closes here',
    group: 'Line up',
    action: when(hotkey('shift+u'), () => void markFrame('closes')),
  },
  {
    keys: 'Y',
    does: 'Accept the proposed opening and closing frames',
    group: 'Line up',
    opens: 'Line up',
    action: when(hotkey('y'), acceptProposal),
  },
  {
    keys: 'Ctrl Enter',
    does: 'Draft it: decide what is not decided yet',
    group: 'Line up',
    opens: 'Draft',
    action: when(control('enter'), draftIt),
  },
  {
    keys: 'Shift Y',
    does: 'Begin for me: a first outline from what moves',
    group: 'Trace',
    opens: 'Trace',
    action: when(hotkey('shift+y'), beginForMe),
  },
  {
    keys: 'E',
    does: 'Edit points',
    group: 'Trace',
    action: when(hotkey('e'), () => setView({ tool: 'edit' })),
  },
  {
    keys: 'L',
    does: 'Draw a seam',
    group: 'Trace',
    action: when(hotkey('l'), () => setView({ tool: 'seam' })),
  },
  {
    keys: 'O',
    does: 'Draw a loop',
    group: 'Trace',
    action: when(hotkey('o'), () => setView({ tool: 'loop' })),
  },
  {
    keys: 'Shift E',
    does: 'Shape with a box: scale, turn, pull corners',
    group: 'Trace',
    action: when(hotkey('shift+e'), () => setView({ tool: 'box', pivot: null })),
  },
  {
    keys: 'Shift R',
    does: 'Draw a rectangle',
    group: 'Trace',
    action: when(hotkey('shift+r'), () => setView({ tool: 'rectangle' })),
  },
  {
    keys: 'Shift O',
    does: 'Draw an ellipse',
    group: 'Trace',
    action: when(hotkey('shift+o'), () => setView({ tool: 'ellipse' })),
  },
  {
    keys: 'C',
    does: 'Seams and loops: point by point, freehand, along the picture’s edge',
    group: 'Trace',
    action: when(hotkey('c'), nextDrawnBy),
  },
  {
    keys: 'Shift + press',
    does: 'While drawing: along the picture’s edge; with that on, Alt: straight',
    group: 'Trace',
    action: noKey,
  },
  {
    keys: 'Shift C',
    does: 'Selected points to curves, or back to corners',
    group: 'Trace',
    action: when(hotkey('shift+c'), togglePointKind),
  },
  { keys: 'F', does: 'Flip the swept side', group: 'Trace', action: when(hotkey('f'), flipSide) },
  {
    keys: 'W A S D',
    does: 'Nudge 1 px (Shift 10 px, Alt 0.1 px)',
    group: 'Trace',
    action(event) {
      const direction = directions[event.key.toLowerCase()];
      if (!direction || event.ctrlKey || event.metaKey) return null;
      const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
      return () => nudge(direction[0] * size, direction[1] * size);
    },
  },
  {
    keys: 'Ctrl →  Ctrl ←',
    does: 'Carry the line to the next frame, to the one before',
    group: 'Trace',
    opens: 'Trace',
    action: carryKey(false, carryOne),
  },
  {
    keys: 'Ctrl Shift →  Ctrl Shift ←',
    does: 'Carry on, back: to the next pose by hand, or until it is not sure',
    group: 'Trace',
    opens: 'Trace',
    action: carryKey(true, carryOn),
  },
  {
    keys: 'Alt Shift →  Alt Shift ←',
    does: 'Carry all outlines of the layer on, back, one after the other',
    group: 'Trace',
    opens: 'Trace',
    action(event) {
      if (!hotkey('alt+shift+right', 'alt+shift+left')(event)) return null;
      return () => carryAllOn(event.key === 'ArrowLeft' ? -1 : 1);
    },
  },
  {
    keys: 'Shift I',
    does: 'Settle: pull the pose, or the selected points, onto the moving edge',
    group: 'Trace',
    opens: 'Trace',
    action: when(hotkey('shift+i'), settle),
  },
  {
    keys: 'Shift J',
    does: 'Next unsure frame, the worst first',
    group: 'Trace',
    opens: 'Trace',
    action: when(hotkey('shift+j'), nextUnsure),
  },
  { keys: 'I', does: 'Make a pose here', group: 'Trace', action: when(hotkey('i'), poseHere) },
  {
    keys: 'J',
    does: 'Make a pose in the middle of the longest gap',
    group: 'Trace',
    action: when(hotkey('j'), halve),
  },
  { keys: 'X', does: 'Remove the pose here', group: 'Trace', action: when(hotkey('x'), removePoseHere) },
  {
    keys: 'Ctrl C',
    does: 'Copy the pose; in step Move the selected keys, in step Sound the piece',
    group: 'Trace',
    action: when(control('c'), () =>
      copySelectedKeys() || (sounding() && copyPieceInHand()) ? null : copyPoseHere(),
    ),
  },
  {
    keys: 'Ctrl V',
    does: 'Paste the copied pose here; in step Move the copied keys, in step Sound the piece',
    group: 'Trace',
    action: when(control('v'), () => {
      if (sounding() && pastePiece()) return null;
      const said = pasteKeys();
      return said === false ? pastePoseHere() : said;
    }),
  },
  { keys: 'Ctrl A', does: 'Select all points', group: 'Trace', action: when(control('a'), selectAllPoints) },
  {
    keys: 'Delete',
    does: 'Remove the selected points, keys of moves, or the piece of sound',
    group: 'Trace',
    action: when(hotkey('delete', 'backspace'), () =>
      removeSelectedKeys() || (sounding() && removePieceInHand()) ? null : removeSelectedPoints(),
    ),
  },
  {
    keys: 'Esc',
    does: 'Clear the selection; stop carrying',
    group: 'Trace',
    action: when(hotkey('escape'), () => {
      if (useCarry.getState().under ?? useDraft.getState().under) {
        stopMeasuring();
        stopCarrying();
      } else setView({ points: new Set(), moveKeys: new Set(), tool: 'edit', range: null, scope: 'this' });
    }),
  },
  {
    keys: '.  ,',
    does: 'Next, previous key of a move',
    group: 'Move',
    action: signs({ '.': () => goToMoveKey(1), ',': () => goToMoveKey(-1) }),
  },
  {
    keys: 'Shift K',
    does: 'Key place and size on this frame, or remove those keys',
    group: 'Move',
    action: when(hotkey('shift+k'), keyPlaceAndSize),
  },
  {
    keys: 'Shift L',
    does: 'Next lane under the picture',
    group: 'Move',
    action: when(hotkey('shift+l'), nextLane),
  },
  ...soundShortcuts,
  {
    keys: 'Ctrl Z',
    does: 'Undo',
    group: 'Edits',
    action: when(control('z'), () => void useDocument.getState().undo()),
  },
  {
    keys: 'Ctrl Y',
    does: 'Redo',
    group: 'Edits',
    action: when(
      hotkey('ctrl+shift+z', 'meta+shift+z', 'ctrl+y', 'meta+y'),
      () => void useDocument.getState().redo(),
    ),
  },
  {
    keys: '?',
    does: 'This key map',
    group: 'Edits',
    action: when(
      (e) => e.key === '?',
      () => setView({ keysShown: true }),
    ),
  },
];

/** What a key event does: of the first line of the map that it means something to. */
export function actionOf(event: KeyboardEvent): Action | null {
  for (const { action, opens } of shortcuts) {
    const found = action(event);
    if (!found) continue;
    if (!opens) return found;
    return () => {
      if (useView.getState().step !== opens) setView({ step: opens });
      return found();
    };
  }
  return null;
}
