/** One of the parts that an export is written in, as by several machines: numbered from 1. */
export interface PartOfMany {
  number: number;
  of: number;
}

/**
 * A part as it is asked for, `3/8`.
 *
 * @throws RangeError with a sentence where it is none.
 */
export function partOfManyFrom(text: string): PartOfMany {
  const [, number, of] = /^(\d{1,4})\/(\d{1,4})$/.exec(text.trim()) ?? [];
  const part = { number: Number(number), of: Number(of) };
  if (!(part.number >= 1 && part.number <= part.of))
    throw new RangeError(`“${text}” is not a part of an export; write 3/8 for the third of eight.`);
  return part;
}

/**
 * The frames of a part: all parts together have each frame once, in order, and differ by one frame at the most.
 *
 * @throws RangeError where there are more parts than frames.
 */
export function framesOfPart({ from, to }: { from: number; to: number }, { number, of }: PartOfMany) {
  const total = to - from + 1;
  if (of > total) throw new RangeError(`${total} frames cannot be written in ${of} parts.`);
  const beginOf = (part: number) => from + Math.floor((part * total) / of);
  return { from: beginOf(number - 1), to: beginOf(number) - 1 };
}
