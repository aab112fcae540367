/** Pictures that can stand for a frame. */
export const stillName = /\.(png|jpe?g|webp)$/i;

/** Most pictures of one sequence. */
export const mostStills = 20_000;

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
    const parts = stillName.test(file.name) ? /^(.*?)(\d+)(\D*)$/.exec(file.name) : null;
    if (!parts) {
      intakes.push({ name: file.name, files: [file], kind: stillName.test(file.name) ? 'stills' : 'file' });
      continue;
    }
    const key = `${parts[1]}#${parts[3]}`;
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
    intake.files.length > 1
      ? { ...intake, name: intake.name.replace(/[\s._-]*\d+(\D*)$/, '$1').replace(/^(\.\w+)$/, 'Sequence$1') }
      : intake,
  );
}
