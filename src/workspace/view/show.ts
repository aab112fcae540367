import { type View, type BothView, bothViews, views } from '@/core/compose/scene';
import { setView, type Tool, useView } from './view-store';

export function showView(view: View) {
  setView({ view });
}

/** Shows both shots at once, in the way used last unless another is given. */
export function showBoth(bothView: BothView = useView.getState().bothView) {
  setView({ view: bothView, bothView });
}

/** Takes a tool of Trace in hand that works on one shot: onto the plain picture where the result or both shots are shown. */
export function takeTool(tool: Tool) {
  const { view } = useView.getState();
  const shared = view === 'result' || (bothViews as readonly View[]).includes(view);
  setView({ tool, step: 'Trace', playing: false, ...(shared ? { view: 'plain' } : {}) });
}

/** The next way of seeing both shots. */
export function nextBoth() {
  const { view, bothView } = useView.getState();
  const at = bothViews.indexOf(bothView);
  showBoth((bothViews as readonly View[]).includes(view) ? bothViews[(at + 1) % bothViews.length] : bothView);
}

/** Folds both columns away, or brings them back. */
export function toggleFullPicture() {
  const { stepsFolded, sheetFolded } = useView.getState();
  const folded = !(stepsFolded && sheetFolded);
  setView({ stepsFolded: folded, sheetFolded: folded });
}

/** Width of window, px, up to which the sheet is narrow unless told otherwise: the picture comes first. */
export const narrowSheetUpTo = 1439;

export function toggleNarrowSheet() {
  const { sheetNarrow } = useView.getState();
  setView({ sheetFolded: false, sheetNarrow: !(sheetNarrow ?? window.innerWidth <= narrowSheetUpTo) });
}

/** One pixel of the crossing to one of the screen; the picture, which knows its size, does it. */
export function showFullSize() {
  window.dispatchEvent(new Event('kiv-full-size'));
}

export function nextView(by: number) {
  const at = (views as readonly View[]).indexOf(useView.getState().view);
  showView(views[(at + by + views.length) % views.length]);
}
