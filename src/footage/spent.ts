/** What a picture takes, by what it is spent on, in ms; the decoder's own time runs beside the others. */
export const spendings = ['decode', 'copy', 'reduce', 'matte', 'upload', 'draw', 'wait'] as const;
export type Spent = Record<(typeof spendings)[number], number>;

const nothing = (): Spent => ({ decode: 0, copy: 0, reduce: 0, matte: 0, upload: 0, draw: 0, wait: 0 });

let spent = nothing();

/** Adds the time since `start` (performance.now()) to one of them. */
export function spend(on: keyof Spent, start: number) {
  spent[on] += performance.now() - start;
}

/** What was spent since this was last asked. */
export function takeSpent(): Spent {
  const taken = spent;
  spent = nothing();
  return taken;
}
