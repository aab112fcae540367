import os from 'node:os';
import { benchBrowser } from './browser';
import { formatFigure } from './figure';
import { benchMatte } from './matte';

const [{ model }] = os.cpus();
console.log(
  `${os.cpus().length} × ${model}, ${Math.round(os.totalmem() / 2 ** 30)} GiB, Node ${process.version}, ${new Date().toISOString().slice(0, 10)}`,
);
for (const figure of benchMatte()) console.log(formatFigure(figure));
for (const figure of await benchBrowser()) console.log(formatFigure(figure));
