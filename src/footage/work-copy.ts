/** Longest side, px, of a picture that previews are drawn from without a smaller copy. */
export const largestShown = 1300;

/** Whether a shot is so large that a smaller copy is made for the preview. */
export function isLarge({ width, height }: { width: number; height: number }): boolean {
  return Math.max(width, height) > largestShown;
}

/** A work copy's width as a share of the shot's: halved until it is about as large as it is shown. */
export function workShare({ width, height }: { width: number; height: number }): number {
  let share = 1;
  while (isLarge({ width: width * share, height: height * share })) share /= 2;
  return share;
}
