/** What both commands need before they begin: packages as the lock file names them, the native module, a build. */
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyPeopleFiles } from './people-files.mjs';

export const root = path.resolve(import.meta.dirname, '..');

/** Where what is prepared is told: 1, standard output; 2, where that is for somebody else. */
let tellOn = 1;

/** Leaves standard output to whoever has called. */
export function tellOnStandardError() {
  tellOn = 2;
}

const tell = (sentence) => (tellOn === 2 ? console.error : console.log)(sentence);

/** What runs now, with whatever it has started in turn. */
const running = new Set();
const groups = process.platform !== 'win32';

/** Runs a command, its output shown; resolves to its exit code. */
export function run(command, args, env = {}) {
  return new Promise((resolve) => {
    // In a group of its own, so that all of it can be ended.
    const options = { cwd: root, stdio: ['ignore', tellOn, 2], detached: groups };
    const child = spawn(command, args, { ...options, env: { ...process.env, ...env } });
    begun(child);
    child.on('error', () => resolve(127));
    child.on('close', (code) => {
      ended(child);
      resolve(code ?? 1);
    });
  });
}

/** Ends all that runs. */
function endAll() {
  for (const child of running) {
    try {
      if (groups && child.pid) process.kill(-child.pid, 'SIGKILL');
      else child.kill('SIGKILL');
    } catch {
      // It has ended by itself.
    }
  }
}

const signals = ['SIGINT', 'SIGTERM'];
const onSignal = () => {
  endAll();
  process.exit(1);
};

// Only while something runs: whoever has called has signals of their own to hear.
function begun(child) {
  if (running.size === 0) for (const signal of signals) process.once(signal, onSignal);
  running.add(child);
}

function ended(child) {
  running.delete(child);
  if (running.size === 0) for (const signal of signals) process.removeListener(signal, onSignal);
}

/** Ends all that runs, says why, and ends: the sentence is the last that is read. */
export function fail(sentence) {
  const closing = [...running].map((child) => new Promise((resolve) => child.once('close', resolve)));
  endAll();
  const last = () => {
    console.error(`\n${sentence}`);
    process.exit(1);
  };
  Promise.race([Promise.all(closing), new Promise((resolve) => setTimeout(resolve, 3000))]).then(last);
  // Whoever has called goes no further.
  return new Promise(() => {});
}

function hashOf(files) {
  const hash = createHash('sha256');
  for (const file of files) hash.update(path.relative(root, file)).update(readFileSync(file));
  return hash.digest('hex');
}

function filesBelow(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath ?? entry.path, entry.name))
    .sort();
}

const stampOf = (file) => (existsSync(file) ? readFileSync(file, 'utf8') : '');

/** Installs the packages when they are not those of the lock file. Their native module is compiled separately. */
async function installPackages() {
  const stamp = path.join(root, 'node_modules', '.kiv-packages');
  const wanted = hashOf([path.join(root, 'package-lock.json')]) + process.version;
  if (stampOf(stamp) === wanted) return;
  tell('Installing packages…');
  // The build needs TypeScript and its types, whatever NODE_ENV says.
  const quietly = ['--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'];
  if ((await run('npm', ['ci', '--include=dev', ...quietly])) !== 0) {
    await fail('The packages could not be installed; npm says why above.');
  }
  writeFileSync(stamp, wanted);
}

/** Node's own headers beside the node that runs, where they are there: then compiling needs no download. */
function ownHeaders() {
  const folder = path.resolve(process.execPath, '../..');
  const known = process.env.npm_config_nodedir;
  return !known && existsSync(path.join(folder, 'include/node/node.h')) ? { npm_config_nodedir: folder } : {};
}

const nativeModule = () => path.join(root, 'node_modules/better-sqlite3/build/Release/better_sqlite3.node');

/** Makes SQLite's native module, downloaded where that is possible, else compiled. */
async function buildSqlite() {
  if (existsSync(nativeModule())) return;
  const tools = ['make', 'c++', 'python3'];
  if (tools.some((tool) => spawnSync(tool, ['--version']).error))
    await aptInstall(['build-essential', 'python3'], 'to compile SQLite');
  tell('Building SQLite…');
  // Where it has to be compiled, a first start must not take minutes: -O1 is done in a third of -O3's time.
  const quick = { CFLAGS: '-O1', CXXFLAGS: '-O1', JOBS: 'max' };
  const code = await run('npm', ['rebuild', 'better-sqlite3', '--loglevel=error'], {
    ...quick,
    ...ownHeaders(),
  });
  if (code !== 0 || !existsSync(nativeModule()))
    await fail('SQLite could not be built. Install build-essential and python3, then start again.');
}

/** Builds the app when its sources are other than those of the last build. */
async function buildApp() {
  copyPeopleFiles(root);
  const stamp = path.join(root, '.next', '.kiv-sources');
  const wanted = hashOf([
    ...filesBelow(path.join(root, 'src')),
    path.join(root, 'next.config.mjs'),
    path.join(root, 'package-lock.json'),
    path.join(root, 'scripts', 'people-files.mjs'),
  ]);
  if (stampOf(stamp) === wanted && existsSync(path.join(root, '.next', 'BUILD_ID'))) return;
  tell('Building Kiv…');
  const code = await run('npx', ['next', 'build'], { NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' });
  if (code !== 0) await fail('Kiv could not be built; the reason stands above.');
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, wanted);
}

/**
 * Packages, then SQLite and the app side by side.
 *
 * @param {'to serve' | 'to restore' | 'to check'} purpose only serving needs the app.
 */
export async function prepare(purpose = 'to serve') {
  await installPackages();
  await Promise.all(purpose === 'to serve' ? [buildSqlite(), buildApp()] : [buildSqlite()]);
}

/** Installs Debian packages, as root; else says which are missing and ends. */
export async function aptInstall(packages, why) {
  const names = packages.join(' ');
  if (process.getuid?.() !== 0)
    await fail(`Kiv needs ${names} ${why}. Install with: sudo apt-get install ${names}`);
  tell(`Installing ${names} ${why}…`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  spawnSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env });
  const { status } = spawnSync('apt-get', ['install', '-y', '-qq', ...packages], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env,
  });
  if (status !== 0) await fail(`${names} could not be installed. Install by hand: apt-get install ${names}`);
}

/** Installs what tests and bench need beyond the packages. */
export async function prepareTestTools() {
  const missing = [
    ['chromium', ['chromium', '--version']],
    ['ffmpeg', ['ffmpeg', '-version']],
    ['parallel', ['parallel', '--version']],
  ].filter(([, [command, ...args]]) => spawnSync(command, args).error);
  if (missing.length > 0)
    await aptInstall(
      missing.map(([name]) => name),
      'for the tests',
    );
}
