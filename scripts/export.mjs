/** `npm run export -- --crossing NAME-or-id --as FORMAT --out FILE`: exports without a window, and what there is to export. */
import { spawn } from 'node:child_process';
import { createWriteStream, existsSync } from 'node:fs';
import { mkdtemp, open, rename, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { launchChromium } from './chromium.mjs';
import {
  chosenFormat,
  helpWith,
  outFile,
  partsOf,
  readArguments,
  Refusal,
  sizes,
} from './export-arguments.mjs';
import { prepare, root, run, tellOnStandardError } from './prepare.mjs';

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

/** A Kiv that answers: the one that runs, or one started for this. @param folder of its own data; then it is started. */
async function reachKiv(folder = null) {
  const running = `http://127.0.0.1:${process.env.PORT || 4680}`;
  const known = folder ? null : await abilitiesAt(running);
  if (known) return { origin: running, formats: known.formats, end() {} };
  await prepare('to serve');
  const port = await freePort();
  const own = folder ? { KIV_DATA: folder, KIV_DEMO: 'none' } : {};
  const server = spawn('node', ['scripts/serve.mjs'], {
    cwd: root,
    env: { ...process.env, ...own, PORT: String(port), NODE_ENV: 'production', KIV_ENDS_WITH_INPUT: '1' },
    stdio: ['pipe', 'ignore', 'pipe'],
  });
  let said = '';
  server.stderr.on('data', (chunk) => (said += chunk));
  let ended = false;
  server.on('exit', () => (ended = true));
  const origin = `http://127.0.0.1:${port}`;
  for (let tries = 0; tries < 480 && !ended; tries++) {
    const abilities = await abilitiesAt(origin);
    const end = async () => {
      server.kill('SIGTERM');
      if (!folder) return;
      if (!ended) await new Promise((done) => server.once('exit', done));
      await rm(folder, { recursive: true, force: true });
    };
    if (abilities) return { origin, formats: abilities.formats, end };
    await new Promise((done) => setTimeout(done, 250));
  }
  server.kill();
  throw new Refusal(said.trim() || 'Kiv could not be started.', 1);
}

/** Whether a crossing is asked for as the ZIP that it travels in. */
const isZip = (asked) => /\.zip$/i.test(asked);

/** Takes a crossing's ZIP into a Kiv of its own. @returns its id. */
async function bringIn(origin, asked) {
  const file = await open(outFile(asked));
  const answer = await fetch(`${origin}/api/parcels`, {
    method: 'POST',
    body: file.readableWebStream({ type: 'bytes' }),
    duplex: 'half',
  });
  const { id, error } = await answer.json();
  if (!answer.ok) throw new Refusal(`${asked} was not taken: ${error}`, 2);
  return id;
}

async function findCrossing(origin, named) {
  const asked = isZip(named) ? await bringIn(origin, named) : named;
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
  let waited = null;
  return ({ written, of, waits }) => {
    if (waits !== waited) {
      waited = waits;
      if (json) line({ event: 'waiting', ...job, message: waits });
      else if (waits) console.error(`Waiting. ${waits}`);
    }
    if (of === 0) return;
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
  await end();
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
    await end();
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
  const zips = values.crossing.filter(isZip);
  for (const zip of zips)
    if (!existsSync(outFile(zip))) throw new Refusal(`There is no file ${outFile(zip)}.`, 2);
  if (zips.length > 0 && zips.length < values.crossing.length)
    throw new Refusal('Crossings of this Kiv and ZIPs are not exported in one run.', 2);
  if (values.part && !values.overwrite && existsSync(outFile(values.out))) {
    if (values.json) line({ event: 'file', path: outFile(values.out) });
    else console.log(`${outFile(values.out)} is there already.`);
    return;
  }
  const folder = zips.length > 0 ? await mkdtemp(path.join(tmpdir(), 'kiv-zip-')) : null;
  const { origin, formats, end } = await reachKiv(folder);
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
    await end();
  }
}

/** Puts the parts beside a file together. */
async function join({ out: asked, overwrite }) {
  const parts = partsOf(asked);
  const out = overwrite ? outFile(asked) : freeName(outFile(asked));
  await prepare('to check');
  if ((await run('npx', ['tsx', 'scripts/join.ts', out, ...parts])) !== 0)
    throw new Refusal('Nothing was joined; the parts are as they were.', 1);
  console.log(out);
}

/** Has Kiv's own page write one crossing in one format, and fetches it. */
async function exportOne(browser, origin, { crossing, format, values, job }) {
  const page = await browser.newPage();
  try {
    const query = new URLSearchParams({ crossing: crossing.id, as: format.format });
    for (const name of ['from', 'to', 'loudness', 'quality', 'timecode'])
      if (values[name] !== undefined) query.set(name, values[name]);
    if (values.size) query.set('part', sizes[values.size]);
    if (values.alone) query.set('alone', '');
    if (values.part) query.set('piece', `${values.part.number}/${values.part.of}`);
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

tellOnStandardError();
try {
  const values = readArguments();
  if (values.help) await showHelp();
  else if (values.list) await listAll(values);
  else if (values.join) await join(values);
  else await exportAll(values);
} catch (error) {
  console.error(error instanceof Refusal ? error.message : error);
  process.exitCode = error.code === 2 ? 2 : 1;
}
