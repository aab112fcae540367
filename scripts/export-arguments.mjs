/** What `npm run export` is asked: its arguments, read and checked before anything is rendered. */
import { closeSync, existsSync, openSync, readdirSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';

/** Endings that say what a file is; one that is asked for must not say something else. */
const endings = ['webm', 'mp4', 'mkv', 'zip', 'wav', 'mov', 'avi', 'png', 'jpg', 'jpeg', 'mp3', 'aac', 'm4a'];

export const sizes = { full: '1', half: '2', quarter: '4' };

/** @param formats as Kiv lists them. */
export const helpWith = (formats) => `npm run export -- --crossing NAME-or-id --as FORMAT --out FILE [more]
npm run export -- --crossing … --as FORMAT --out FILE --part 3/8
npm run export -- --join --out FILE
npm run export -- --list [--json]

Writes crossings to files without a window, or lists crossings and formats. A Kiv that runs at PORT (4680) is used; else one is started for it on the
data in KIV_DATA and ended again. Needs Chromium: Debian's, or the one that KIV_CHROMIUM names.

  --crossing NAME-or-id   as the shelf calls it; several times for several crossings. Or a crossing’s ZIP: it is opened in
                          a Kiv of its own, which is gone afterwards, so that any machine can write it
  --as FORMAT             ${formats.map(({ command, label }) => `${command.padEnd(14)} ${label}`).join('\n                          ')}
                          Several at once, with commas between them: mp4,matte-png,wav
  --out FILE              where to, counted from the folder you are in; a name that exists gets a number. Of several
                          crossings or formats: a folder, in which each is called by its crossing and format
  --name PATTERN          how the files in that folder are called; left out: "{crossing} {as}". Fields: {crossing}, {shot},
                          {of}, {as}, {in}, {out}, {revision}, {date}
  --overwrite             takes a name that exists, and replaces its file once the new one is whole
  --from N, --to M        first and last frame; left out: what is played. They may lie beyond the crossing (handles).
                          Numbered pictures of ranges that are written apart are those of one run.
  --alone                 the traced shot alone, all its frames, pixel for pixel; --from and --to are its own
  --size half | quarter   of the crossing's; left out: full
  --quality medium | small  of a video; left out: fine
  --no-sound              pictures only
  --loudness -24 | -23 | -16 | -14   LUFS; left out: as it is mixed
  --timecode 10:00:00:00  of the first frame; none: none. Left out: that of the outgoing shot, where it has one
  --part 3/8              only the third of eight parts, as FILE.part-3-of-8; one that is there is not written again.
                          The first part has all of the sound. docs/render-farm.md shows it on several machines
  --join                  puts the parts beside FILE together, without encoding again
  --list                  the crossings and formats that there are; nothing is written
  --json                  progress, files and lists as JSON, a line each, on standard output
  --help                  this

Ends with 0 when all files are there; 1 when one could not be written: what was exported is then kept in Kiv, under
Exports, and the rest is written all the same; 2 when the arguments are wrong: nothing is rendered then.

Lines of --json: {"event":"progress","crossing","format","written","of"}, {"event":"file","crossing","format","path"},
{"event":"waiting","crossing","format","message"}, {"event":"failed","crossing","format","message","code"}; of --list {"event":"crossing",…}, {"event":"format",…}.`;

/** LUFS that a mix is brought to, as they are typed. */
const loudnesses = ['-24', '-23', '-16', '-14'];

export class Refusal extends Error {
  constructor(message, code) {
    super(message);
    this.code = code;
  }
}

/** Arguments in which a negative number belongs to the option before it. */
function withNegatives(args) {
  const joined = [];
  for (const each of args) {
    if (/^-\d/.test(each) && joined.at(-1)?.startsWith('--')) joined.push(`${joined.pop()}=${each}`);
    else joined.push(each);
  }
  return joined;
}

export function readArguments() {
  let values;
  try {
    ({ values } = parseArgs({
      options: {
        ...Object.fromEntries(
          ['as', 'out', 'name', 'from', 'to', 'loudness', 'size', 'quality', 'timecode', 'part'].map(
            (name) => [name, { type: 'string' }],
          ),
        ),
        crossing: { type: 'string', multiple: true },
        ...Object.fromEntries(
          ['list', 'json', 'overwrite', 'join'].map((name) => [name, { type: 'boolean' }]),
        ),
        'no-sound': { type: 'boolean' },
        alone: { type: 'boolean' },
        help: { type: 'boolean' },
      },
      args: withNegatives(process.argv.slice(2)),
    }));
  } catch (error) {
    throw new Refusal(`${error.message} See --help.`, 2);
  }
  if (values.help || values.list) return values;
  if (values.join) {
    if (!values.out) throw new Refusal('--out is missing: the file that the parts are joined to.', 2);
    requireWritable(values.out);
    return values;
  }
  for (const name of ['crossing', 'as', 'out'])
    if (!values[name]) throw new Refusal(`--${name} is missing. See --help.`, 2);
  for (const name of ['from', 'to'])
    if (values[name] !== undefined && !/^-?\d+$/.test(values[name]))
      throw new Refusal(`--${name} is a frame's number.`, 2);
  const [from, to] = [values.from, values.to].map((frame) => (frame === undefined ? null : Number(frame)));
  if (from !== null && to !== null && from > to)
    throw new Refusal(`--from ${from} lies after --to ${to}.`, 2);
  values.formats = [...new Set(values.as.split(',').map((each) => each.trim()))];
  values.several = values.formats.length * values.crossing.length > 1;
  if (values.name !== undefined && !values.several)
    throw new Refusal('--name is for several files; --out names a single one.', 2);
  if (values.part !== undefined) {
    if (values.several) throw new Refusal('--part is of one crossing in one format.', 2);
    values.part = readPart(values.part);
    values.out = partName(values.out, values.part);
  }
  if (values.several) requireFolder(values.out);
  else requireWritable(values.out);
  if (values.loudness !== undefined && !loudnesses.includes(values.loudness))
    throw new Refusal(`--loudness is one of ${loudnesses.join(', ')}.`, 2);
  if (values.size !== undefined && !(values.size in sizes))
    throw new Refusal(`--size is one of ${Object.keys(sizes).join(', ')}.`, 2);
  if (values.quality !== undefined && !['fine', 'medium', 'small'].includes(values.quality))
    throw new Refusal('--quality is fine, medium or small.', 2);
  return values;
}

/** A part as it is asked for, 3/8. */
function readPart(text) {
  const [, number, of] = (/^(\d{1,4})\/(\d{1,4})$/.exec(text) ?? []).map(Number);
  if (!(number >= 1 && number <= of))
    throw new Refusal(`--part ${text} is none; write 3/8 for the third of eight.`, 2);
  return { number, of };
}

/** What a part's file is called where the whole is called so: film.webm, film.part-3-of-8.webm. */
function partName(file, { number, of }) {
  const { dir, name, ext } = path.parse(file);
  return path.join(dir, `${name}.part-${number}-of-${of}${ext}`);
}

/**
 * The parts that lie beside the file that they are joined to, in their order.
 *
 * @throws Refusal where some are missing, or there are several sets.
 */
export function partsOf(asked) {
  const out = outFile(asked);
  const { dir, name, ext } = path.parse(out);
  const found = readdirSync(dir).flatMap((file) => {
    const own = path.parse(file);
    const [, stem, number, of] = /^(.*)\.part-(\d+)-of-(\d+)$/.exec(own.name) ?? [];
    return stem === name && own.ext === ext ? [{ file, number: Number(number), of: Number(of) }] : [];
  });
  const counts = [...new Set(found.map(({ of }) => of))];
  if (counts.length === 0)
    throw new Refusal(`There are no parts of ${out}: ${partName(out, { number: 1, of: 8 })} and so on.`, 1);
  if (counts.length > 1)
    throw new Refusal(`There are parts of ${counts.join(' and of ')}. Delete those that are not meant.`, 1);
  const [of] = counts;
  const missing = Array.from({ length: of }, (_, k) => k + 1).filter(
    (k) => !found.some(({ number }) => number === k),
  );
  if (missing.length > 0)
    throw new Refusal(
      `Of ${of} parts ${missing.length === 1 ? 'one is' : `${missing.length} are`} missing: ${missing.join(', ')}. Write them with --part.`,
      1,
    );
  return found.sort((a, b) => a.number - b.number).map(({ file }) => path.join(dir, file));
}

/** The file that is asked for: a relative name counts from the folder that the command was called in. */
export const outFile = (out) => path.resolve(process.env.INIT_CWD || process.cwd(), out);

/** Several files go into a folder. */
function requireFolder(asked) {
  const out = outFile(asked);
  if (!existsSync(out)) throw new Refusal(`There is no folder ${out}. Several files go into one.`, 2);
  if (!statSync(out).isDirectory())
    throw new Refusal(`${out} is a file. Several files go into a folder: name one.`, 2);
  requireWritable(path.join(out, '.kiv-export'));
}

/** Finds out before anything is rendered whether the file can be written. */
function requireWritable(asked) {
  const out = outFile(asked);
  if (existsSync(out) && statSync(out).isDirectory())
    throw new Refusal(`${out} is a folder. Name a file in it.`, 2);
  const folder = path.dirname(out);
  if (!existsSync(folder) || !statSync(folder).isDirectory())
    throw new Refusal(`There is no folder ${folder}.`, 2);
  const probe = `${out}.part`;
  try {
    closeSync(openSync(probe, 'a'));
    rmSync(probe);
  } catch (error) {
    throw new Refusal(`${out} cannot be written (${error.code}).`, 1);
  }
}

/** A format that is asked for, out of those that Kiv lists. */
export function chosenFormat(as, { out, several }, formats) {
  const chosen = formats.find(({ command }) => command === as);
  if (!chosen)
    throw new Refusal(
      `There is no format ${as}; there are ${formats.map(({ command }) => command).join(', ')}.`,
      2,
    );
  const ending = several ? '' : path.extname(outFile(out)).slice(1).toLowerCase();
  if (ending !== chosen.extension && endings.includes(ending))
    throw new Refusal(`--out ends with .${ending}, but what is asked for is a .${chosen.extension} file.`, 2);
  return chosen;
}
