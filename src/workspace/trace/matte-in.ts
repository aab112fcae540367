import { call } from '@/interface/api';
import { told } from '@/interface/start-worker';
import type { ShotMedia } from '@/wire/answers';
import { useView } from '../view/view-store';
import { busyNow, carrierBegun, useCarry } from './carry-store';
import { offer } from './offered';
import { sourceFrameOf, tracedNow } from '../session/traced';

/** What is under way meanwhile. */
export const readingMatte = 'Reading the matte';

/**
 * Shows the outlines about what is white in a shot that is a matte of the traced one, to be taken or left.
 *
 * @param startsOn frame of the traced shot on which the matte's frame 0 lies.
 * @param which the frame on screen, or all that the matte has.
 * @returns why there is nothing to show, or null.
 */
export async function showMatte(
  matteId: string,
  startsOn: number,
  which: 'this' | 'all',
): Promise<string | null> {
  const traced = tracedNow();
  if (!traced) return 'Choose a shot first.';
  const busy = busyNow();
  if (busy) return busy;
  const { shot } = traced;
  const here = sourceFrameOf(traced, useView.getState().frame) - startsOn;
  useCarry.setState({ under: { what: readingMatte, share: 0 }, says: null });
  try {
    const media = await call<ShotMedia>(`/api/shots/${matteId}`);
    const { frameCount, name } = media.shot;
    const [first, last] =
      which === 'this'
        ? [here, here]
        : [Math.max(0, -startsOn), Math.min(frameCount, shot.frameCount - startsOn) - 1];
    if (first < 0 || last >= frameCount || first > last)
      return `“${name}” has no picture here: its frames lie on ${startsOn} to ${startsOn + frameCount - 1} of the shot.`;
    const carrier = await carrierBegun();
    if (!carrier)
      return 'This part of the page could not be started. Load the page again; everything is saved.';
    await carrier.takeShot(media);
    const hear = told((share: number) => useCarry.setState({ under: { what: readingMatte, share } }));
    const loops = await carrier.matteLoops(
      matteId,
      [first, last],
      { width: shot.width, height: shot.height },
      hear,
    );
    if (!loops || tracedNow()?.shot.id !== shot.id) return null;
    if (loops.length === 0) return `Nothing is white in “${name}” there.`;
    const outlines = loops.map(({ hole, poses }, k) => ({
      name: k === 0 ? name : `${name}, ${hole ? 'hole' : 'part'} ${k + 1}`,
      kind: 'loop' as const,
      hole,
      poses: poses.map(({ frame, coordinates }) => ({ frame: frame + startsOn, coordinates })),
    }));
    offer(name, outlines);
    return null;
  } finally {
    useCarry.setState({ under: null });
  }
}
