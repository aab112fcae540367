/** `npm run export -- --crossing NAME-or-id --as FORMAT --out FILE`: an export without a window. */
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

Writes a crossing to a file without a window. A Kiv that runs at PORT (4680) is used; else one is started for it on the
data in KIV_DATA and ended again. Needs Chromium: Debian's, or the one that KIV_CHROMIUM names.

  --crossing NAME-or-id   as the shelf calls it
  --as FORMAT             ${formats.map(({ command, label }) => `${command.padEnd(14)} ${label}`).join('\n                          ')}
  --out FILE              where to, counted from the folder you are in; a name that exists gets a number
  --from N, --to M        first and last frame; left out: what is played. They may lie beyond the crossing (handles).
                          Numbered pictures of ranges that are written apart are those of one run.
  --alone                 the traced shot alone, all its frames, pixel for pixel; --from and --to are its own
  --size half | quarter   of the crossing's; left out: full
  --quality medium | small  of a video; left out: fine
  --no-sound              pictures only
  --loudness -23 | -14    LUFS; left out: as it is mixed
  --help                  this

Ends with 0 when the file is there; 1 when it could not be written: what was exported is then kept in Kiv, under
Exports; 2 when the arguments are wrong: nothing is rendered then.`;

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
          ['crossing', 'as', 'out', 'from', 'to', 'loudness', 'size', 'quality'].map((name) => [
            name,
            { type: 'string' },
          ]),
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
  if (values.help) return null;
  for (const name of ['crossing', 'as', 'out'])
    if (!values[name]) throw new Refusal(`--${name} is missing. See --help.`, 2);
  for (const name of ['from', 'to'])
    if (values[name] !== undefined && !/^-?\d+$/.test(values[name]))
      throw new Refusal(`--${name} is a frame's number.`, 2);
  const [from, to] = [values.from, values.to].map((frame) => (frame === undefined ? null : Number(frame)));
  if (from !== null && to !== null && from > to)
    throw new Refusal(`--from ${from} lies after --to ${to}.`, 2);
  requireWritable(values.out);
  if (values.loudness !== undefined && !['-23', '-14'].includes(values.loudness))
    throw new Refusal('--loudness is -23 or -14.', 2);
  if (values.size !== undefined && !(values.size in parts))
    throw new Refusal(`--size is one of ${Object.keys(parts).join(', ')}.`, 2);
  if (values.quality !== undefined && !['fine', 'medium', 'small'].includes(values.quality))
    throw new Refusal('--quality is fine, medium or small.', 2);
  return values;
}

/** The file that is asked for: a relative name counts from the folder that the command was called in. */
const outFile = (out) => path.resolve(process.env.INIT_CWD || process.cwd(), out);

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

/** The format that is asked for, out of those that Kiv lists. */
function chosenFormat({ as, out }, formats) {
  const chosen = formats.find(({ command }) => command === as);
  if (!chosen)
    throw new Refusal(
      `There is no format ${as}; there are ${formats.map(({ command }) => command).join(', ')}.`,
      2,
    );
  const ending = path.extname(outFile(out)).slice(1).toLowerCase();
  if (ending !== chosen.extension && endings.includes(ending))
    throw new Refusal(`--out ends with .${ending}, but what is asked for is a .${chosen.extension} file.`, 2);
  return chosen.format;
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

/** Says how far it is: in one line on a terminal, else a line each tenth. */
function progress() {
  let told = -1;
  return ({ written, of }) => {
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

async function exportIt(values) {
  const { origin, formats, end } = await reachKiv();
  let browser;
  try {
    const as = chosenFormat(values, formats);
    const { id } = await findCrossing(origin, values.crossing);
    browser = await launchChromium((says) => console.error(says)).catch((error) => {
      throw new Refusal(
        `Chromium could not be started (${error.message.split('\n')[0]}). Install it (on Debian: sudo apt-get install chromium), or name one in KIV_CHROMIUM.`,
        1,
      );
    });
    const page = await browser.newPage();
    const query = new URLSearchParams({ crossing: id, as });
    for (const name of ['from', 'to', 'loudness', 'quality'])
      if (values[name] !== undefined) query.set(name, values[name]);
    if (values.size) query.set('part', parts[values.size]);
    if (values.alone) query.set('alone', '');
    if (values['no-sound']) query.set('sound', 'none');
    await page.goto(`${origin}/unattended?${query}`);
    const tell = progress();
    for (;;) {
      const state = JSON.parse(await page.locator('[data-run]').getAttribute('data-run'));
      if (state.state === 'writing') tell(state);
      if (state.state === 'failed') throw new Refusal(state.message, state.asked ? 2 : 1);
      if (state.state === 'done') {
        await fetchFile(origin, state.id, values.out);
        break;
      }
      await new Promise((done) => setTimeout(done, 150));
    }
  } finally {
    await browser?.close();
    end();
  }
}

/** Puts a finished export where it was asked for; Kiv's own copy is deleted only once it is there. */
async function fetchFile(origin, id, asked) {
  if (process.stderr.isTTY) process.stderr.write('\n');
  const out = freeName(outFile(asked));
  const part = `${out}.part`;
  try {
    const answer = await fetch(`${origin}/api/exports/${id}/file`);
    if (!answer.ok) throw new Error(`Kiv answered ${answer.status}.`);
    await pipeline(Readable.fromWeb(answer.body), createWriteStream(part));
    await rename(part, out);
  } catch (error) {
    await rm(part, { force: true });
    throw new Refusal(
      `${out} could not be written: ${error.message} The export is kept in Kiv, under Exports (${id}).`,
      1,
    );
  }
  console.log(out);
  await fetch(`${origin}/api/exports/${id}`, { method: 'DELETE' }).catch(() => {});
}

try {
  const values = readArguments();
  if (values) await exportIt(values);
  else await showHelp();
} catch (error) {
  console.error(error instanceof Refusal ? error.message : error);
  process.exitCode = error.code === 2 ? 2 : 1;
}
