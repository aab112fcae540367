/** `npm run export -- --crossing NAME-or-id --as FORMAT --out FILE`: exports without a window, and what there is to export. */
import { spawn } from 'node:child_process';
import { closeSync, createWriteStream, existsSync, openSync, rmSync, statSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import { launchChromium } from './chromium.mjs';
import { prepare, root } from './prepare.mjs';

/** Endings that say what a file is; one that is asked for must not say something else. */
const endings = ['webm', 'mp4', 'mkv', 'zip', 'wav', 'mov', 'avi', 'png', 'jpg', 'jpeg', 'mp3', 'aac', 'm4a'];

const parts = { full: '1', half: '2', quarter: '4' };

/** @param formats as Kiv lists them. */
const helpWith = (formats) => `npm run export -- --crossing NAME-or-id --as FORMAT --out FILE [more]
npm run export -- --list [--json]

Writes crossings to files without a window, or lists crossings and formats. A Kiv that runs at PORT (4680) is used; else one is started for it on the
data in KIV_DATA and ended again. Needs Chromium: Debian's, or the one that KIV_CHROMIUM names.

  --crossing NAME-or-id   as the shelf calls it; several times for several crossings
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
  --list                  the crossings and formats that there are; nothing is written
  --json                  progress, files and lists as JSON, a line each, on standard output
  --help                  this

Ends with 0 when all files are there; 1 when one could not be written: what was exported is then kept in Kiv, under
Exports, and the rest is written all the same; 2 when the arguments are wrong: nothing is rendered then.

Lines of --json: {"event":"progress","crossing","format","written","of"}, {"event":"file","crossing","format","path"},
{"event":"failed","crossing","format","message","code"}; of --list {"event":"crossing",…}, {"event":"format",…}.`;

/** LUFS that a mix is brought to, as they are typed. */
const loudnesses = ['-24', '-23', '-16', '-14'];

class Refusal extends Error {
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

function readArguments() {
  let values;
  try {
    ({ values } = parseArgs({
      options: {
        ...Object.fromEntries(
          ['as', 'out', 'name', 'from', 'to', 'loudness', 'size', 'quality'].map((name) => [
            name,
            { type: 'string' },
          ]),
        ),
        crossing: { type: 'string', multiple: true },
        ...Object.fromEntries(['list', 'json', 'overwrite'].map((name) => [name, { type: 'boolean' }])),
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
  if (values.several) requireFolder(values.out);
  else requireWritable(values.out);
  if (values.loudness !== undefined && !loudnesses.includes(values.loudness))
    throw new Refusal(`--loudness is one of ${loudnesses.join(', ')}.`, 2);
  if (values.size !== undefined && !(values.size in parts))
    throw new Refusal(`--size is one of ${Object.keys(parts).join(', ')}.`, 2);
  if (values.quality !== undefined && !['fine', 'medium', 'small'].includes(values.quality))
    throw new Refusal('--quality is fine, medium or small.', 2);
  return values;
}

/** The file that is asked for: a relative name counts from the folder that the command was called in. */
const outFile = (out) => path.resolve(process.env.INIT_CWD || process.cwd(), out);

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
function chosenFormat(as, { out, several }, formats) {
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

/** What the Kiv at an address can do; null where none answers. */
const abilitiesAt = (origin) =>
  fetch(`${origin}/api/abilities`).then(
    (answer) => (answer.ok ? answer.json() : null),
    () => null,
  );

const freePort = () =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });

/** A Kiv that answers: the one that runs, or one started for this. */
async function reachKiv() {
  const running = `http://127.0.0.1:${process.env.PORT || 4680}`;
  const known = await abilitiesAt(running);
  if (known) return { origin: running, formats: known.formats, end() {} };
  await prepare('to serve');
  const port = await freePort();
  const server = spawn('node', ['scripts/serve.mjs'], {
    cwd: root,
    env: { ...process.env, PORT: String(port), NODE_ENV: 'production' },
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let said = '';
  server.stderr.on('data', (chunk) => (said += chunk));
  let ended = false;
  server.on('exit', () => (ended = true));
  const origin = `http://127.0.0.1:${port}`;
  for (let tries = 0; tries < 480 && !ended; tries++) {
    const abilities = await abilitiesAt(origin);
    if (abilities) return { origin, formats: abilities.formats, end: () => server.kill('SIGTERM') };
    await new Promise((done) => setTimeout(done, 250));
  }
  server.kill();
  throw new Refusal(said.trim() || 'Kiv could not be started.', 1);
}

async function findCrossing(origin, asked) {
  const all = await (await fetch(`${origin}/api/crossings`)).json();
  const same = all.filter(({ id, name }) => id === asked || name.toLowerCase() === asked.toLowerCase());
  if (same.length === 1) return same[0];
  if (same.length > 1)
    throw new Refusal(
      `Several crossings are called “${asked}”: ${same.map(({ id }) => id).join(', ')}. Name one by its id.`,
      2,
    );
  throw new Refusal(
    `There is no crossing “${asked}”. There are: ${all.map(({ name }) => name).join(', ') || 'none'}.`,
    2,
  );
}

/** A path that nothing has yet: with a number where the one asked for is taken. */
function freeName(file) {
  const { dir, name, ext } = path.parse(file);
  for (let n = 2, free = file; ; n++) {
    if (!existsSync(free)) return free;
    free = path.join(dir, `${name}-${n}${ext}`);
  }
}

/** A line of JSON on standard output. */
const line = (event) => console.log(JSON.stringify(event));

/** Says how far it is: in one line on a terminal, else a line each tenth; or as JSON. */
function progress(json, job) {
  let told = -1;
  return ({ written, of }) => {
    if (json) {
      if (written !== told) line({ event: 'progress', ...job, written, of });
      told = written;
      return;
    }
    if (process.stderr.isTTY) process.stderr.write(`\rFrame ${written} of ${of} `);
    const tenth = Math.floor((10 * written) / of);
    if (!process.stderr.isTTY && tenth > told) console.error(`Frame ${written} of ${of}`);
    told = tenth;
  };
}

async function showHelp() {
  const { formats, end } = await reachKiv();
  end();
  console.log(helpWith(formats));
}

/** Lists what there is to export, and as what. */
async function listAll({ json }) {
  const { origin, formats, end } = await reachKiv();
  try {
    const crossings = await (await fetch(`${origin}/api/crossings`)).json();
    for (const { id, name, plan, length } of crossings)
      if (json) line({ event: 'crossing', id, name, plan, length });
      else console.log(`${id}  ${name}`);
    if (!json) console.log('');
    for (const { command, label, extension } of formats)
      if (json) line({ event: 'format', command, label, extension });
      else console.log(`${command.padEnd(14)}  ${label}`);
  } finally {
    end();
  }
}

/** How one of several files is called unless a pattern is given. */
const usualNameOfSeveral = '{crossing} {as}';

/** Finds out before anything is rendered whether files can be called by a pattern. */
async function requireNaming(origin, pattern) {
  const answer = await fetch(`${origin}/api/export-names?${new URLSearchParams({ pattern })}`);
  const { wrong } = await answer.json();
  if (wrong) throw new Refusal(`--name: ${wrong}`, 2);
}

/** Files of this run: none of them takes another's place. */
const written = new Set();

async function exportAll(values) {
  const { origin, formats, end } = await reachKiv();
  let browser;
  try {
    const chosen = values.formats.map((as) => chosenFormat(as, values, formats));
    if (values.name !== undefined) await requireNaming(origin, values.name);
    const crossings = [];
    for (const asked of values.crossing) crossings.push(await findCrossing(origin, asked));
    browser = await launchChromium((says) => console.error(says)).catch((error) => {
      throw new Refusal(
        `Chromium could not be started (${error.message.split('\n')[0]}). Install it (on Debian: sudo apt-get install chromium), or name one in KIV_CHROMIUM.`,
        1,
      );
    });
    let failed = null;
    for (const crossing of crossings)
      for (const format of chosen) {
        const job = { crossing: crossing.name, format: format.command };
        try {
          await exportOne(browser, origin, { crossing, format, values, job });
        } catch (error) {
          if (!(error instanceof Refusal)) throw error;
          if (values.json) line({ event: 'failed', ...job, message: error.message, code: error.code });
          if (!values.several) throw error;
          if (!values.json) console.error(`${job.crossing}, ${job.format}: ${error.message}`);
          // What is wrong with the arguments is wrong with all of them.
          failed = Math.min(failed ?? error.code, error.code);
        }
      }
    if (failed !== null) throw new Refusal('Not all files were written.', failed);
  } finally {
    await browser?.close();
    end();
  }
}

/** Has Kiv's own page write one crossing in one format, and fetches it. */
async function exportOne(browser, origin, { crossing, format, values, job }) {
  const page = await browser.newPage();
  try {
    const query = new URLSearchParams({ crossing: crossing.id, as: format.format });
    for (const name of ['from', 'to', 'loudness', 'quality'])
      if (values[name] !== undefined) query.set(name, values[name]);
    if (values.size) query.set('part', parts[values.size]);
    if (values.alone) query.set('alone', '');
    if (values['no-sound']) query.set('sound', 'none');
    await page.goto(`${origin}/unattended?${query}`);
    const tell = progress(values.json, job);
    for (;;) {
      const state = JSON.parse(await page.locator('[data-run]').getAttribute('data-run'));
      if (state.state === 'writing') tell(state);
      if (state.state === 'failed') throw new Refusal(state.message, state.asked ? 2 : 1);
      if (state.state === 'done') {
        const file = await fetchFile(origin, state.id, values);
        if (values.json) line({ event: 'file', ...job, path: file });
        else console.log(file);
        return;
      }
      await new Promise((done) => setTimeout(done, 150));
    }
  } finally {
    await page.close();
  }
}

/** The file name that an answer carries (RFC 6266, RFC 8187). */
const nameIn = (disposition) => decodeURIComponent(/filename\*=UTF-8''(.+)$/.exec(disposition)[1]);

/** Puts a finished export where it was asked for; Kiv's own copy is deleted only once it is there. */
async function fetchFile(origin, id, { out: asked, several, name = usualNameOfSeveral, overwrite }) {
  if (process.stderr.isTTY) process.stderr.write('\n');
  let out = outFile(asked);
  let part = `${out}.part`;
  try {
    const answer = await fetch(
      `${origin}/api/exports/${id}/file?${new URLSearchParams(several ? { name } : {})}`,
    );
    if (!answer.ok) throw new Error(`Kiv answered ${answer.status}.`);
    if (several) out = path.join(out, nameIn(answer.headers.get('content-disposition')));
    if (!overwrite || written.has(out)) out = freeName(out);
    written.add(out);
    part = `${out}.part`;
    await pipeline(Readable.fromWeb(answer.body), createWriteStream(part));
    await rename(part, out);
  } catch (error) {
    await rm(part, { force: true });
    throw new Refusal(
      `${out} could not be written: ${error.message} The export is kept in Kiv, under Exports (${id}).`,
      1,
    );
  }
  await fetch(`${origin}/api/exports/${id}`, { method: 'DELETE' }).catch(() => {});
  return out;
}

try {
  const values = readArguments();
  if (values.help) await showHelp();
  else if (values.list) await listAll(values);
  else await exportAll(values);
} catch (error) {
  console.error(error instanceof Refusal ? error.message : error);
  process.exitCode = error.code === 2 ? 2 : 1;
}
