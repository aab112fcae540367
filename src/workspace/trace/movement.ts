import { measureShots, stopMeasuring, useMotion } from '../line-up/motion-store';

/** ms between two looks whether it is still wanted. */
const lookAgain = 100;

/** Said while it is measured. */
export const measuringMovement = 'Measuring the movement';

/**
 * Measures how a shot moves, unless that is known.
 *
 * @param isWanted asked again and again; it stops as soon as it is not.
 * @param tell told the share that is done.
 * @returns what went wrong, as a sentence; null: nothing did, or it was stopped.
 */
export async function measureMovement(
  { id, motion }: { id: string; motion: object | null },
  isWanted: () => boolean,
  tell: (share: number) => void,
): Promise<string | null> {
  if (motion) return null;
  tell(0);
  const unsubscribe = useMotion.subscribe(({ measuring }) => {
    if (measuring?.shotId === id && isWanted()) tell(measuring.share);
  });
  let timer: ReturnType<typeof setInterval> | undefined;
  const stopped = new Promise<void>((resolve) => {
    timer = setInterval(() => {
      if (isWanted()) return;
      stopMeasuring();
      resolve();
    }, lookAgain);
  });
  try {
    // What is stopped is never told.
    await Promise.race([measureShots([id]), stopped]);
  } finally {
    clearInterval(timer);
    unsubscribe();
  }
  return isWanted() ? useMotion.getState().failure : null;
}

/** Frames up to which a shot is measured before its subject is cut out; longer ones are where it is asked for. */
const mostFrames = 1500;

/** The same where it is worth waiting for; without it a subject is cut all the same, less surely. */
export async function measureForCutting(
  shot: { id: string; motion: object | null; frameCount: number },
  isWanted: () => boolean,
  tell: (share: number) => void,
): Promise<void> {
  if (shot.frameCount > 1 && shot.frameCount <= mostFrames) await measureMovement(shot, isWanted, tell);
}
