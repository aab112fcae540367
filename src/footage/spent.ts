/** What a picture takes, by what it is spent on, in ms; decoders and encoders run beside the others, and are waited for. */
export const spendings = [
  ...(['decode', 'copy', 'reduce', 'matte', 'upload', 'draw', 'wait'] as const),
  // Of an export.
  ...(['read', 'convert', 'encode'] as const),
] as const;
export type Spent = Record<(typeof spendings)[number], number>;

const nothing = () => Object.fromEntries(spendings.map((on) => [on, 0])) as Spent;

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
