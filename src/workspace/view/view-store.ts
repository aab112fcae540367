import { create } from 'zustand';
import type { BothView, View } from '@/core/compose/scene';
import type { RowChange } from '@/core/document/edit';
import type { Channel } from '@/core/model/channels';
import type { Spent } from '@/footage/spent';
import type { SideJudgement } from '@/core/edge/swept-side';

/** `edit` takes points, `box` shapes them together, `pick` keys a colour, `brush` paints what a subject is, `people` takes somebody who was found; the others draw. */
export type Tool = 'edit' | 'box' | 'pick' | 'brush' | 'people' | 'seam' | 'loop' | 'rectangle' | 'ellipse';

/** How seams and loops are drawn: point by point, along the trail of the pointer, or along the picture's edge from press to press. */
export type DrawnBy = 'points' | 'freehand' | 'edge';

/** What a change of shape goes for: the pose on this frame, those on the selected frames, or all, as an offset. */
export type Scope = 'this' | 'selected' | 'all';

/** Screen px of the crossing's top-left corner, and screen px a crossing px. */
export interface Camera {
  x: number;
  y: number;
  scale: number;
}

export type StepName =
  'Draft' | 'Shots' | 'Line up' | 'Trace' | 'Edge' | 'Move' | 'Sound' | 'Check' | 'Export';

/** A course over the crossing's frames. */
export type Lane = 'covered' | 'speed' | 'sound' | 'moves' | Channel;

export interface ViewState {
  frame: number;
  view: View;
  /** The way of seeing both shots that was used last. */
  bothView: BothView;
  /** Strength of the overlay, or place of the split line across the frame: 0 to 1. */
  share: number;
  /** The step that is open. */
  step: StepName | null;
  /** The layer whose column in the sheet is in hand, to be slipped and set. */
  layerId: string | null;
  /** What is moved: a layer, or by the crossing's id the whole picture; null: the layer that is traced. */
  moverId: string | null;
  /** What runs along the strip under the picture. */
  lane: Lane;
  /** Keys of moves that are selected, by id. */
  moveKeys: ReadonlySet<string>;
  /** The layer that the result shows alone. */
  solo: string | null;
  tool: Tool;
  drawnBy: DrawnBy;
  scope: Scope;
  /** How far along the line, in px of the shot, other points follow those that are moved; 0: not at all. */
  soft: number;
  /** Where the box turns and scales about, in px of the shot; null: its middle. */
  pivot: readonly [number, number] | null;
  /** First and last of the frames selected in the sheet; null: only the current one. */
  range: readonly [first: number, last: number] | null;
  quality: 1 | 0.5 | 0.25;
  /** Share of the crossing's size that the picture has on screen, at most 1. */
  fineness: number;
  /** Part of the crossing's frame that is in the window, in crossing px. */
  visible: readonly [number, number, number, number];
  playing: boolean;
  /** Frames left out since playback began. */
  dropped: number;
  /** Share of its fineness at rest that the picture plays with. */
  playedShare: number;
  onion: boolean;
  /** Whether keyed layers are shown cut by their colour only. */
  keyAlone: boolean;
  /** How far around the pointer a colour is picked, px of the shot. */
  pickRadius: number;
  /** Whether a loupe follows the pointer. */
  loupe: boolean;
  /** Whether the contact sheet of the edge lies over the picture. */
  strips: boolean;
  /** Where the pointer is near the line, px of the traced shot; null: nowhere near, or not asked for. */
  pointerPlace: readonly [number, number] | null;
  stepsFolded: boolean;
  sheetFolded: boolean;
  /** Whether the sheet leaves out thumbnails and timecode; null: as the window is wide. */
  sheetNarrow: boolean | null;
  /** What the transport says of each shot: the number of its frame, or its timecode. */
  sourceCount: 'frames' | 'timecode';
  keysShown: boolean;
  outlineId: string | null;
  /** What the swept side of a seam just drawn rests on; null once it was looked at. */
  sideNote: { outlineId: string; judged: SideJudgement } | null;
  /** Indices of the selected points. */
  points: ReadonlySet<number>;
  /** Row changes of a drag that has not ended. */
  draft: RowChange[] | null;
  camera: Camera | null;
  /** Frame and time of the picture that is on screen. */
  shown: { frame: number; milliseconds: number; spent: Spent; original: boolean } | null;
  coverage: Float32Array | null;
  failure: string | null;
}

const fresh: ViewState = {
  frame: 0,
  view: 'result',
  bothView: 'overlay',
  share: 0.5,
  step: 'Trace',
  layerId: null,
  moverId: null,
  lane: 'covered',
  moveKeys: new Set(),
  solo: null,
  tool: 'edit',
  drawnBy: 'points',
  scope: 'this',
  soft: 0,
  pivot: null,
  range: null,
  quality: 1,
  fineness: 1,
  visible: [0, 0, 8192, 8192],
  playing: false,
  dropped: 0,
  playedShare: 1,
  onion: true,
  keyAlone: false,
  pickRadius: 8,
  loupe: false,
  strips: false,
  pointerPlace: null,
  stepsFolded: false,
  sheetFolded: false,
  sheetNarrow: null,
  sourceCount: 'frames',
  keysShown: false,
  outlineId: null,
  sideNote: null,
  points: new Set(),
  draft: null,
  camera: null,
  shown: null,
  coverage: null,
  failure: null,
};

export const useView = create<ViewState>(() => fresh);

export const setView = useView.setState;

/** Everything as it is when a crossing is opened. */
export function resetView(frame: number, outlineId: string | null) {
  // How large the picture is on screen does not change with the crossing.
  setView(
    ({ fineness, visible, sheetNarrow, sourceCount }) => ({
      ...fresh,
      ...{ fineness, visible, sheetNarrow, sourceCount, frame, outlineId },
    }),
    true,
  );
}
