import os from 'node:os';
import { benchBrowser } from './browser';
import { benchCarry } from './carry';
import { type Figure, formatFigure } from './figure';
import { benchLarge } from './large';
import { benchMatte } from './matte';
import { benchSaving } from './saving';

/** `npm run bench`, or `npm run bench -- large`: all parts, or those named; `carry FOLDER` takes passes of one's own. */
const parts: Record<string, () => Figure[] | Promise<Figure[]>> = {
  matte: benchMatte,
  browser: benchBrowser,
  large: benchLarge,
  saving: benchSaving,
  carry: () => benchCarry(null),
};

const [{ model }] = os.cpus();
console.log(
  `${os.cpus().length} × ${model}, ${Math.round(os.totalmem() / 2 ** 30)} GiB, Node ${process.version}, ${new Date().toISOString().slice(0, 10)}`,
);
const asked = process.argv.slice(2);
if (asked[0] === 'carry' && asked.length > 1) {
  await benchCarry(asked[1]);
  process.exit(0);
}
const unknown = asked.filter((name) => !(name in parts));
if (unknown.length > 0) {
  console.error(`There is no part ${unknown.join(', ')}; there are ${Object.keys(parts).join(', ')}.`);
  process.exit(1);
}
for (const name of asked.length > 0 ? asked : Object.keys(parts))
  for (const figure of await parts[name]()) console.log(formatFigure(figure));
