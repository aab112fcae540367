/** Pictures that can stand for a frame. */
export const stillName = /\.(png|jpe?g|webp)$/i;

/** Most pictures of one sequence. */
export const mostStills = 20_000;

/** Most digits of a picture's number: so many are counted exactly. */
const mostDigits = 15;

/**
 * A name's last number and what stands around it, found in one pass however long the name is; null where it has none,
 * or one with more digits than are counted exactly.
 */
export function lastNumberOf(name: string): { before: string; digits: string; after: string } | null {
  const isDigit = (at: number) => name[at] >= '0' && name[at] <= '9';
  let end = name.length;
  while (end > 0 && !isDigit(end - 1)) end--;
  let start = end;
  while (start > 0 && isDigit(start - 1)) start--;
  if (end === 0 || end - start > mostDigits) return null;
  return { before: name.slice(0, start), digits: name.slice(start, end), after: name.slice(end) };
}

/** A file to bring in, or pictures that belong together as one sequence. */
export type Intake<F> = { name: string; files: F[]; kind: 'file' | 'stills' };

/**
 * Parts what a person has chosen into single files and numbered sequences: pictures whose names differ only in their
 * last number belong together.
 */
export function intakesOf<F extends { name: string }>(files: readonly F[]): Intake<F>[] {
  const sequences = new Map<string, F[]>();
  const intakes: Intake<F>[] = [];
  for (const file of files) {
    const parts = stillName.test(file.name) ? lastNumberOf(file.name) : null;
    if (!parts) {
      intakes.push({ name: file.name, files: [file], kind: stillName.test(file.name) ? 'stills' : 'file' });
      continue;
    }
    const key = `${parts.before}#${parts.after}`;
    const known = sequences.get(key);
    if (known) {
      known.push(file);
      continue;
    }
    const members = [file];
    sequences.set(key, members);
    intakes.push({ name: file.name, files: members, kind: 'stills' });
  }
  return intakes.map((intake) =>
    intake.files.length > 1 ? { ...intake, name: withoutNumber(intake.name) } : intake,
  );
}

/** A sequence's name: that of its first picture without the number. */
function withoutNumber(name: string): string {
  const { before, after } = lastNumberOf(name)!;
  let end = before.length;
  while (end > 0 && ' \t._-'.includes(before[end - 1])) end--;
  return `${before.slice(0, end) || 'Sequence'}${after}`;
}
