import { useDocument } from '../document/document-store';
import { useView, setView } from '../view/view-store';
import { parseTimecode } from '@/core/time/timecode';
import { rateOf } from '@/core/time/rate';
import { current } from './in-hand';
import { type Traced, crossingFrameIn } from './traced';

export function goTo(frame: number) {
  const length = useDocument.getState().document?.crossing.length ?? 1;
  const { sideNote } = useView.getState();
  setView({
    frame: Math.min(length - 1, Math.max(0, Math.round(frame))),
    draft: null,
    // What is sure has been said; a guess stays until somebody decides.
    ...(sideNote?.judged.sure ? { sideNote: null } : {}),
  });
}

/** Goes to a frame, and selects all from where the selection began up to there. */
export function selectTo(frame: number) {
  const { frame: here, range } = useView.getState();
  const anchor = range ? (here === range[0] ? range[1] : range[0]) : here;
  goTo(frame);
  const to = useView.getState().frame;
  setView({ range: [Math.min(anchor, to), Math.max(anchor, to)], scope: 'selected' });
}

export function step(by: number) {
  setView({ playing: false });
  goTo(useView.getState().frame + by);
}

/**
 * Goes where a person has typed: `+12` or `-12` from here, `120` to that frame, `00:00:01:05` to that timecode.
 *
 * @returns a sentence when it cannot be read.
 */
export function jumpTo(typed: string): string | null {
  setView({ playing: false });
  if (/^[+-]\d+$/.test(typed)) step(Number(typed));
  else if (/^\d+$/.test(typed)) goTo(Number(typed));
  else {
    const { crossing } = useDocument.getState().document!;
    try {
      goTo(parseTimecode(typed, rateOf(crossing)));
    } catch (error) {
      return error instanceof RangeError ? error.message : String(error);
    }
  }
  return null;
}

/** Goes to the nearest frame with a pose of the outline in hand, ahead or back. */
export function goToPose(direction: 1 | -1) {
  const { traced, outline, source } = current();
  if (!traced || !outline) return;
  const frames = (traced.document.poses[outline.id] ?? []).map((pose) => pose.frame);
  const target =
    direction > 0 ? frames.find((frame) => frame > source) : frames.findLast((frame) => frame < source);
  if (target !== undefined) goToSource(traced, target);
}

export function goToSource(traced: Traced, source: number) {
  goTo(crossingFrameIn(traced, source));
}

export function togglePlaying() {
  const { playing } = useView.getState();
  setView({ playing: !playing, dropped: 0, playedShare: 1, draft: null });
}
