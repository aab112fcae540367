import os from 'node:os';
import { benchBegin } from './begin';
import { benchBrowser } from './browser';
import { benchCarry } from './carry';
import { benchCarryByChance } from './carry-by-chance';
import { benchDraft } from './draft';
import { benchExport } from './export';
import { benchFind } from './find';
import { benchFindings } from './findings';
import { type Figure, formatFigure, isMissed } from './figure';
import { benchFit } from './fit';
import { benchGaps } from './gaps';
import { benchKills } from './kills';
import { benchLarge } from './large';
import { benchLargeExport } from './large-export';
import { benchMatte } from './matte';
import { benchMoving } from './moving';
import { benchPeople } from './people';
import { benchSaving } from './saving';
import { benchSound } from './sound';
import { benchSubjects } from './subjects';
import { benchTrail } from './trail';
import { benchWalk } from './walk';

/** `npm run bench`, or `npm run bench -- large`: all parts, or those named. */
const parts: Record<string, () => Figure[] | Promise<Figure[]>> = {
  matte: benchMatte,
  browser: benchBrowser,
  moving: benchMoving,
  export: benchExport,
  sound: benchSound,
  large: benchLarge,
  'large-export': benchLargeExport,
  saving: benchSaving,
};
/** `npm run bench -- carry [FOLDER]`: these print as they go, over the bench's passes or a folder of one's own; what is bounded comes last. */
const overPasses: Record<string, (folder: string | null) => Promise<Figure[]>> = {
  begin: benchBegin,
  carry: benchCarry,
  gaps: benchGaps,
  findings: benchFindings,
  trail: benchTrail,
  subjects: benchSubjects,
  people: benchPeople,
};
/** `npm run bench -- kills [ROUNDS]`, `-- draft SET`, `-- fit [SET]`, `-- walk [SIZE]`, `-- find [SET or FOLDER]`: what is only run when it is asked for. */
const onDemand: Record<string, (argument: string | null) => Promise<void>> = {
  kills: benchKills,
  draft: benchDraft,
  fit: benchFit,
  walk: benchWalk,
  find: benchFind,
};

const [{ model }] = os.cpus();
console.log(
  `${os.cpus().length} × ${model}, ${Math.round(os.totalmem() / 2 ** 30)} GiB, Node ${process.version}, ${new Date().toISOString().slice(0, 10)}`,
);
/** With `--check` a figure that misses its bound, or was not measured, ends it with an error. */
const checks = process.argv.includes('--check');
const asked = process.argv.slice(2).filter((argument) => argument !== '--check');
const missed: string[] = [];
const report = (figures: readonly Figure[]) => {
  for (const figure of figures) {
    console.log(formatFigure(figure));
    if (isMissed(figure)) missed.push(figure.name);
  }
};

if (asked[0] === 'carry' && asked[1] === '--by-chance') await benchCarryByChance(asked[2]);
else if (asked[0] in onDemand) await onDemand[asked[0]](asked[1] ?? null);
else if (asked[0] in overPasses) report(await overPasses[asked[0]](asked[1] ?? null));
else {
  const unknown = asked.filter((name) => !(name in parts));
  if (unknown.length > 0) {
    const known = [...Object.keys(parts), ...Object.keys(overPasses), ...Object.keys(onDemand)];
    console.error(`There is no part ${unknown.join(', ')}; there are ${known.join(', ')}.`);
    process.exit(2);
  }
  for (const name of asked.length > 0 ? asked : Object.keys(parts)) report(await parts[name]());
  if (asked.length === 0) for (const part of Object.values(overPasses)) report(await part(null));
}
if (missed.length > 0) console.error(`Missed: ${missed.join('; ')}.`);
process.exit(checks && missed.length > 0 ? 1 : 0);
