/** `npm test`: every check there is, counted; the exit code tells. `npm run test:quick`: without the browser and the slow suites. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { prepare, prepareTestTools, root, run } from './prepare.mjs';

process.chdir(root);
const quick = process.argv.includes('--quick');
const results = mkdtempSync(path.join(tmpdir(), 'kiv-results-'));
let passed = 0;
let failed = 0;

async function check(name, command, args) {
  const started = Date.now();
  const code = await run(command, args);
  console.log(`${code === 0 ? 'ok' : 'FAILED'}: ${name} (${((Date.now() - started) / 1000).toFixed(1)} s)`);
  if (code === 0) passed++;
  else failed++;
}

/** Counts the tests of a runner from its report; a runner that leaves none, or ran nothing, has failed. */
async function countedRun(name, command, args, env, count) {
  const code = await run(command, args, env);
  let counts = { passed: 0, failed: 1 };
  try {
    counts = count();
  } catch (error) {
    console.error(`${name} left no report: ${error.message}`);
  }
  if (counts.passed === 0 || (code !== 0 && counts.failed === 0)) counts.failed = Math.max(1, counts.failed);
  passed += counts.passed;
  failed += counts.failed;
}

await prepare(quick ? 'to check' : 'to serve');
if (!quick) await prepareTestTools();
// One processor each, so side by side.
await Promise.all([
  check('lint', 'npx', ['eslint', '--max-warnings', '0', '.']),
  (async () => {
    await check('format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']);
    await check('types', 'npx', ['tsc', '--noEmit']);
    const walls = ['src', 'demo', 'e2e', 'bench', 'properties'];
    await check('import directions', 'npx', ['depcruise', '--config', '.dependency-cruiser.cjs', ...walls]);
    await check('folders', 'npx', ['depcruise', '--config', '.dependency-cruiser.folders.cjs', 'src']);
  })(),
]);
const jestReport = path.join(results, 'jest.json');
await countedRun(
  'Jest',
  'npx',
  ['jest', '--json', `--outputFile=${jestReport}`],
  quick ? { KIV_QUICK: '1' } : {},
  () => {
    const report = JSON.parse(readFileSync(jestReport, 'utf8'));
    return {
      passed: report.numPassedTests,
      failed: report.numFailedTests + report.numRuntimeErrorTestSuites,
    };
  },
);
let flaky = 0;
if (!quick) {
  const browserReport = path.join(results, 'playwright.json');
  const reporters = { CI: '1', PLAYWRIGHT_JSON_OUTPUT_NAME: browserReport };
  await countedRun('Playwright', 'npx', ['playwright', 'test', '--reporter=list,json'], reporters, () => {
    const { stats } = JSON.parse(readFileSync(browserReport, 'utf8'));
    flaky = stats.flaky;
    return { passed: stats.expected + stats.flaky, failed: stats.unexpected };
  });
}
if (flaky > 0) console.log(`${flaky} of them only at the second try`);
console.log(`${passed} passed, ${failed} failed`);
rmSync(results, { recursive: true, force: true });
process.exit(failed === 0 ? 0 : 1);
