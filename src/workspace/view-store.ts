import { create } from 'zustand';
import type { BothView, View } from '@/core/compose/scene';
import type { RowChange } from '@/core/document/edit';

export type Tool = 'edit' | 'seam' | 'loop';

/** Screen px of the crossing's top-left corner, and screen px a crossing px. */
export interface Camera {
  x: number;
  y: number;
  scale: number;
}

export type StepName = 'Shots' | 'Line up' | 'Trace' | 'Edge' | 'Export';

export interface ViewState {
  frame: number;
  view: View;
  /** The way of seeing both shots that was used last. */
  bothView: BothView;
  /** Strength of the overlay, or place of the split line across the frame: 0 to 1. */
  share: number;
  /** The step that is open. */
  step: StepName | null;
  /** The layer that a person has chosen to trace on; null: the plan's. */
  tracedLayerId: string | null;
  /** The layer whose column in the sheet is in hand, to be slipped and set. */
  layerId: string | null;
  /** The layer that the result shows alone. */
  solo: string | null;
  tool: Tool;
  quality: 1 | 0.5 | 0.25;
  /** Share of the crossing's size that is enough for the picture as large as it is on screen. */
  fineness: 1 | 0.5 | 0.25;
  /** Part of the crossing's frame that is in the window, in crossing px. */
  visible: readonly [number, number, number, number];
  playing: boolean;
  /** Frames left out since playback began. */
  dropped: number;
  onion: boolean;
  stepsFolded: boolean;
  sheetFolded: boolean;
  keysShown: boolean;
  outlineId: string | null;
  /** Indices of the selected points. */
  points: ReadonlySet<number>;
  /** What a hand that has not let go yet would change. */
  draft: RowChange[] | null;
  camera: Camera | null;
  /** Frame and time of the picture that is on screen. */
  shown: { frame: number; milliseconds: number } | null;
  coverage: Float32Array | null;
  failure: string | null;
  /** A pose that was copied: outline and source frame. */
  copied: { outlineId: string; frame: number } | null;
}

const fresh: ViewState = {
  frame: 0,
  view: 'result',
  bothView: 'overlay',
  share: 0.5,
  step: 'Trace',
  tracedLayerId: null,
  layerId: null,
  solo: null,
  tool: 'edit',
  quality: 1,
  fineness: 1,
  visible: [0, 0, 8192, 8192],
  playing: false,
  dropped: 0,
  onion: true,
  stepsFolded: false,
  sheetFolded: false,
  keysShown: false,
  outlineId: null,
  points: new Set(),
  draft: null,
  camera: null,
  shown: null,
  coverage: null,
  failure: null,
  copied: null,
};

export const useView = create<ViewState>(() => fresh);

export const setView = useView.setState;

/** Everything as it is when a crossing is opened. */
export function resetView(frame: number, outlineId: string | null) {
  // How large the picture is on screen does not change with the crossing.
  setView(({ fineness, visible }) => ({ ...fresh, fineness, visible, frame, outlineId }), true);
}
