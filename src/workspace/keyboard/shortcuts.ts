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
import { control, hotkey, plain, type Shortcut } from './shortcut';
import { brushShortcuts } from './brush-shortcuts';
import { offeredShortcuts } from './offered-shortcuts';
import { plumbShortcuts } from './plumb-shortcuts';
import { soundShortcuts } from './sound-shortcuts';

const directions: Record<string, [number, number]> = { w: [0, -1], a: [-1, 0], s: [0, 1], d: [1, 0] };

let nudgeStep: [number, number] = [0, 0];
let slipStep = 0;
let keyWay: 1 | -1 = 1;
/** Whether step Sound is open: its piece is what some keys are about then. */
const sounding = () => useView.getState().step === 'Sound';
let bracket = '';
let carryWay: 1 | -1 = 1;

/** Ctrl, or the command key, with an arrow to the right or to the left. */
const carryKey = (shift: boolean) => (event: KeyboardEvent) => {
  const way = ({ ArrowRight: 1, ArrowLeft: -1 } as const)[event.key as 'ArrowRight'];
  if (!way || event.altKey || event.shiftKey !== shift || !(event.ctrlKey || event.metaKey)) return false;
  carryWay = way;
  return true;
};

/** All keys, in the order of the key map. */
export const shortcuts: Shortcut[] = [
  ...offeredShortcuts,
  ...plumbShortcuts,
  ...brushShortcuts,
  {
    keys: '→  ↓',
    does: 'Next frame',
    group: 'Frames',
    matches: hotkey('arrowright', 'arrowdown', 'shift+arrowright', 'shift+arrowdown'),
    run: () => step(1),
  },
  {
    keys: '←  ↑',
    does: 'Previous frame',
    group: 'Frames',
    matches: hotkey('arrowleft', 'arrowup', 'shift+arrowleft', 'shift+arrowup'),
    run: () => step(-1),
  },
  { keys: 'Home', does: 'First frame', group: 'Frames', matches: hotkey('home'), run: () => goTo(0) },
  { keys: 'End', does: 'Last frame', group: 'Frames', matches: hotkey('end'), run: () => goTo(Infinity) },
  { keys: 'N', does: 'Later pose', group: 'Frames', matches: hotkey('n'), run: () => goToPose(1) },
  {
    keys: 'Shift N',
    does: 'Earlier pose',
    group: 'Frames',
    matches: hotkey('shift+n'),
    run: () => goToPose(-1),
  },
  {
    keys: '+12, −12, 120',
    does: 'Type a jump, a frame or a timecode, then Enter',
    group: 'Frames',
    matches: () => false,
    run: () => {},
  },
  { keys: 'Space', does: 'Play and pause', group: 'Frames', matches: () => false, run: () => {} },
  { keys: 'P', does: 'Plain picture', group: 'Picture', matches: hotkey('p'), run: () => showView('plain') },
  { keys: 'K', does: 'Cut', group: 'Picture', matches: hotkey('k'), run: () => showView('cut') },
  { keys: 'M', does: 'Matte', group: 'Picture', matches: hotkey('m'), run: () => showView('matte') },
  { keys: 'R', does: 'Result', group: 'Picture', matches: hotkey('r'), run: () => showView('result') },
  {
    keys: 'B',
    does: 'Checkerboard',
    group: 'Picture',
    matches: hotkey('b'),
    run: () => showView('checkerboard'),
  },
  {
    keys: 'V',
    does: 'Both shots: overlay, difference, beside, split',
    group: 'Picture',
    matches: hotkey('v'),
    run: nextBoth,
  },
  {
    keys: 'Shift F',
    does: 'Full picture: fold both columns away, and back',
    group: 'Picture',
    matches: hotkey('shift+f'),
    run: toggleFullPicture,
  },
  {
    keys: 'Shift Q',
    does: 'Sheet narrow, without pictures, and wide',
    group: 'Picture',
    matches: hotkey('shift+q'),
    run: toggleNarrowSheet,
  },
  { keys: 'Q', does: 'Next view', group: 'Picture', matches: hotkey('q'), run: () => nextView(1) },
  {
    keys: 'G',
    does: 'Neighbouring poses (onion skin)',
    group: 'Picture',
    matches: hotkey('g'),
    run: () => setView({ onion: !useView.getState().onion }),
  },
  {
    keys: 'Shift P',
    does: 'Loupe at the pointer, with a grid of pixels',
    group: 'Picture',
    matches: hotkey('shift+p'),
    run: () => setView({ loupe: !useView.getState().loupe }),
  },
  {
    keys: 'Z',
    does: 'Whole frame',
    group: 'Picture',
    matches: hotkey('z'),
    run: () => setView({ camera: null }),
  },
  {
    keys: 'Shift Z',
    does: 'One pixel to one (100 %)',
    group: 'Picture',
    matches: hotkey('shift+z'),
    run: showFullSize,
  },
  {
    keys: 'Space + drag',
    does: 'Move the picture; the wheel zooms',
    group: 'Picture',
    matches: () => false,
    run: () => {},
  },
  {
    keys: 'Alt ↓  Alt ↑',
    does: 'Slip the shot in hand a frame later, earlier (Shift: 10)',
    group: 'Line up',
    matches(event) {
      const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (!way || !event.altKey || event.ctrlKey || event.metaKey) return false;
      slipStep = way * (event.shiftKey ? 10 : 1);
      return true;
    },
    run: () => slip(slipStep),
  },
  { keys: 'H', does: 'Next shot in hand', group: 'Line up', matches: hotkey('h'), run: nextLayer },
  {
    keys: '[  ]',
    does: 'In, out of the crossing here',
    group: 'Line up',
    matches(event) {
      bracket = event.key;
      return (plain(event) || event.getModifierState('AltGraph')) && /^[[\]]$/.test(event.key);
    },
    run: () => setRangeHere(bracket === '[' ? 'in' : 'out'),
  },
  {
    keys: '{  }',
    does: 'Trim the start, the end of the shot in hand here',
    group: 'Line up',
    matches(event) {
      bracket = event.key;
      return (plain(event) || event.getModifierState('AltGraph')) && /^[{}]$/.test(event.key);
    },
    run: () => trimHere(bracket === '{' ? 'start' : 'end'),
  },
  {
    keys: 'T',
    does: 'Mark this frame',
    group: 'Line up',
    matches: hotkey('t'),
    run: () => markFrame('mark'),
  },
  {
    keys: 'Shift T',
    does: 'Next mark',
    group: 'Line up',
    matches: hotkey('shift+t'),
    run: () => goToMark(1),
  },
  {
    keys: 'U',
    does: 'The edge opens here',
    group: 'Line up',
    matches: hotkey('u'),
    run: () => markFrame('opens'),
  },
  {
    keys: 'Shift U',
    does: 'The edge closes here',
    group: 'Line up',
    matches: hotkey('shift+u'),
    run: () => markFrame('closes'),
  },
  {
    keys: 'Y',
    does: 'Accept the proposed opening and closing frames',
    group: 'Line up',
    matches: hotkey('y'),
    run: acceptProposal,
  },
  {
    keys: 'Shift Y',
    does: 'Begin for me: a first outline from what moves',
    group: 'Trace',
    matches: hotkey('shift+y'),
    run: beginForMe,
  },
  {
    keys: 'E',
    does: 'Edit points',
    group: 'Trace',
    matches: hotkey('e'),
    run: () => setView({ tool: 'edit' }),
  },
  {
    keys: 'L',
    does: 'Draw a seam',
    group: 'Trace',
    matches: hotkey('l'),
    run: () => setView({ tool: 'seam' }),
  },
  {
    keys: 'O',
    does: 'Draw a loop',
    group: 'Trace',
    matches: hotkey('o'),
    run: () => setView({ tool: 'loop' }),
  },
  {
    keys: 'Shift E',
    does: 'Shape with a box: scale, turn, pull corners',
    group: 'Trace',
    matches: hotkey('shift+e'),
    run: () => setView({ tool: 'box', pivot: null }),
  },
  {
    keys: 'Shift R',
    does: 'Draw a rectangle',
    group: 'Trace',
    matches: hotkey('shift+r'),
    run: () => setView({ tool: 'rectangle' }),
  },
  {
    keys: 'Shift O',
    does: 'Draw an ellipse',
    group: 'Trace',
    matches: hotkey('shift+o'),
    run: () => setView({ tool: 'ellipse' }),
  },
  {
    keys: 'C',
    does: 'Seams and loops: point by point, freehand, along the picture’s edge',
    group: 'Trace',
    matches: hotkey('c'),
    run: nextDrawnBy,
  },
  {
    keys: 'Shift + press',
    does: 'While drawing: along the picture’s edge; with that on, Alt: straight',
    group: 'Trace',
    matches: () => false,
    run: () => {},
  },
  {
    keys: 'Shift C',
    does: 'Selected points to curves, or back to corners',
    group: 'Trace',
    matches: hotkey('shift+c'),
    run: togglePointKind,
  },
  { keys: 'F', does: 'Flip the swept side', group: 'Trace', matches: hotkey('f'), run: flipSide },
  {
    keys: 'W A S D',
    does: 'Nudge 1 px (Shift 10 px, Alt 0.1 px)',
    group: 'Trace',
    matches(event) {
      const direction = directions[event.key.toLowerCase()];
      if (!direction || event.ctrlKey || event.metaKey) return false;
      const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
      nudgeStep = [direction[0] * size, direction[1] * size];
      return true;
    },
    run: () => nudge(...nudgeStep),
  },
  {
    keys: 'Ctrl →  Ctrl ←',
    does: 'Carry the line to the next frame, to the one before',
    group: 'Trace',
    matches: carryKey(false),
    run: () => carryOne(carryWay),
  },
  {
    keys: 'Ctrl Shift →  ←',
    does: 'Carry on, back: to the next pose by hand, or until it is not sure',
    group: 'Trace',
    matches: carryKey(true),
    run: () => carryOn(carryWay),
  },
  {
    keys: 'Alt Shift →  ←',
    does: 'Carry all outlines of the layer on, back, one after the other',
    group: 'Trace',
    matches(event) {
      carryWay = event.key === 'ArrowLeft' ? -1 : 1;
      return hotkey('alt+shift+right', 'alt+shift+left')(event);
    },
    run: () => carryAllOn(carryWay),
  },
  {
    keys: 'Shift I',
    does: 'Settle: pull the pose, or the selected points, onto the moving edge',
    group: 'Trace',
    matches: hotkey('shift+i'),
    run: settle,
  },
  {
    keys: 'Shift J',
    does: 'Next unsure frame, the worst first',
    group: 'Trace',
    matches: hotkey('shift+j'),
    run: nextUnsure,
  },
  { keys: 'I', does: 'Make a pose here', group: 'Trace', matches: hotkey('i'), run: poseHere },
  {
    keys: 'J',
    does: 'Halve: make a pose in the middle of the longest gap',
    group: 'Trace',
    matches: hotkey('j'),
    run: halve,
  },
  { keys: 'X', does: 'Remove the pose here', group: 'Trace', matches: hotkey('x'), run: removePoseHere },
  {
    keys: 'Ctrl C',
    does: 'Copy the pose; in step Move the selected keys, in step Sound the piece',
    group: 'Trace',
    matches: control('c'),
    run: () => (copySelectedKeys() || (sounding() && copyPieceInHand()) ? null : copyPoseHere()),
  },
  {
    keys: 'Ctrl V',
    does: 'Put the copied pose here; in step Move the copied keys, in step Sound the piece',
    group: 'Trace',
    matches: control('v'),
    run: () => {
      if (sounding() && pastePiece()) return null;
      const said = pasteKeys();
      return said === false ? pastePoseHere() : said;
    },
  },
  { keys: 'Ctrl A', does: 'Select all points', group: 'Trace', matches: control('a'), run: selectAllPoints },
  {
    keys: 'Delete',
    does: 'Remove the selected points, keys of moves, or the piece of sound',
    group: 'Trace',
    matches: hotkey('delete', 'backspace'),
    run: () => (removeSelectedKeys() || (sounding() && removePieceInHand()) ? null : removeSelectedPoints()),
  },
  {
    keys: 'Esc',
    does: 'Let go of the selection; stop carrying',
    group: 'Trace',
    matches: hotkey('escape'),
    run: () => {
      if (useCarry.getState().under) {
        stopMeasuring();
        stopCarrying();
      } else setView({ points: new Set(), moveKeys: new Set(), tool: 'edit', range: null, scope: 'this' });
    },
  },
  {
    keys: '.  ,',
    does: 'Next, former key of a move',
    group: 'Move',
    matches(event) {
      keyWay = event.key === '.' ? 1 : -1;
      return plain(event) && /^[.,]$/.test(event.key);
    },
    run: () => goToMoveKey(keyWay),
  },
  {
    keys: 'Shift K',
    does: 'Key place and size on this frame, or take them away',
    group: 'Move',
    matches: hotkey('shift+k'),
    run: keyPlaceAndSize,
  },
  {
    keys: 'Shift L',
    does: 'Next lane under the picture',
    group: 'Move',
    matches: hotkey('shift+l'),
    run: nextLane,
  },
  ...soundShortcuts,
  {
    keys: 'Ctrl Z',
    does: 'Undo',
    group: 'Edits',
    matches: control('z'),
    run: () => void useDocument.getState().undo(),
  },
  {
    keys: 'Ctrl Y',
    does: 'Redo',
    group: 'Edits',
    matches: hotkey('ctrl+shift+z', 'meta+shift+z', 'ctrl+y', 'meta+y'),
    run: () => void useDocument.getState().redo(),
  },
  {
    keys: '?',
    does: 'This key map',
    group: 'Edits',
    matches: (e) => e.key === '?',
    run: () => setView({ keysShown: true }),
  },
];
