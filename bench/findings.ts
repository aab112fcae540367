import path from 'node:path';
import { canJudge, edgeFindings, type FrameReading, type Unread } from '../src/core/checks/edge-checks';
import { movingEdgeReading } from '../src/core/carry/edge-reading';
import { type OutlineRow, plainEdge, plainOutline } from '../src/core/document/tables';
import { numbersPerPoint as N } from '../src/core/model/choices';
import type { Shot } from '../src/core/model/shot';
import { walkOutline } from '../src/core/edge/strip';
import { identity } from '../src/core/geometry/affine';
import { inwardDirections } from '../src/core/outline';
import { passesIn, type PassTruth, readClip, readTruth } from './clip-frames';
import { drawnPasses } from './passes/make';
import type { Figure } from './figure';

/** Frames between two that are looked at, and of those that are put off the edge on purpose. */
const every = 3;
const offEvery = 4;
const offBy = 4;

/**
 * `npm run bench -- findings [FOLDER]`: the truth as the trace, and the truth with single frames put 4 px off to
 * either side, as the checks judge them.
 */
export async function benchFindings(folder: string | null): Promise<Figure[]> {
  const place = folder ?? (await drawnPasses());
  const total = { frames: 0, wrong: 0, put: 0, found: 0, ms: 0, unjudged: 0, passes: 0 };
  for (const name of passesIn(place)) {
    const result = await judged(path.join(place, name));
    console.log(
      `${name}: ${result.judged ? 'judged' : 'NOT JUDGED'}, ${result.wrong} of ${result.frames} good frames found wrong, ` +
        `${result.found} of ${result.put} put-in errors found, ${(result.ms / result.frames).toFixed(0)} ms a frame`,
    );
    for (const key of ['frames', 'wrong', 'put', 'found', 'ms'] as const) total[key] += result[key];
    total.passes++;
    if (!result.judged) total.unjudged++;
  }
  console.log(
    `findings, all: ${total.passes - total.unjudged} of ${total.passes} passes judged, ` +
      `false in ${((100 * total.wrong) / total.frames).toFixed(1)} % of ${total.frames} good frames, ` +
      `${total.found} of ${total.put} put-in errors found, ${(total.ms / total.frames).toFixed(0)} ms a frame`,
  );
  if (folder) return [];
  const share = (count: number, of: number) => (100 * count) / of;
  return [
    { name: 'findings: false', value: share(total.wrong, total.frames), unit: '%', atMost: 2 },
    {
      name: 'findings: put-in errors not found',
      value: share(total.put - total.found, total.put),
      unit: '%',
      atMost: 5,
    },
  ];
}

async function judged(folder: string) {
  const pass = readTruth(folder);
  const clip = readClip(folder, pass);
  // A seam's truth runs down the picture, so that its right is the screen's left.
  const sweptSide = pass.side === 'left' ? 'right' : 'left';
  const outline = {
    ...plainOutline,
    ...{ id: 'o', layerId: 'l', name: 'o', kind: pass.kind, sweptSide, points: [] },
  } as unknown as OutlineRow;
  const shot = { id: 's', width: pass.width, height: pass.height, rotation: 0 } as Shot;
  const good: (FrameReading | Unread)[] = [];
  const off = new Map<number, (FrameReading | Unread)[]>();
  let [ms, count] = [0, 0];
  const read = async (frame: number, by: number): Promise<FrameReading | Unread> => {
    const coordinates = posed(outline, pass, frame, by);
    const walk = walkOutline(outline, coordinates, shot, 1);
    const reading = await movingEdgeReading(clip, frame, {
      shot,
      outline,
      coordinates,
      walk,
      toPicture: identity,
    });
    const place = [0, 0] as const;
    if (!reading) return { frame, place };
    return { frame, posed: true, edge: plainEdge, speed: 0, reading, place };
  };
  for (let frame = 0; frame < clip.count; frame += every) {
    const truth = pass.truth[frame];
    if (!truth?.length || !truth.every(([x]) => x >= 50 && x <= pass.width - 50)) continue;
    const begun = performance.now();
    good.push(await read(frame, 0));
    ms += performance.now() - begun;
    if (count++ % offEvery === 1) off.set(frame, [await read(frame, offBy), await read(frame, -offBy)]);
  }
  const wrongFrames = (readings: readonly (FrameReading | Unread)[]) => {
    const list = readings.filter((each): each is FrameReading => 'reading' in each);
    const lost = readings.filter((each) => !('reading' in each));
    const kinds = ['object is cut', 'background peeks', 'no edge'];
    const found = edgeFindings(outline, list, false, lost).filter(({ kind }) => kinds.includes(kind));
    return good
      .filter(({ frame }) => found.some(({ from, to }) => frame >= from && frame <= to))
      .map(({ frame }) => frame);
  };
  let [put, found] = [0, 0];
  for (const [frame, readings] of off)
    for (const reading of readings) {
      put++;
      const mixed = good.map((each) => (each.frame === frame ? reading : each));
      if (wrongFrames(mixed).includes(frame)) found++;
    }
  const list = good.filter((each): each is FrameReading => 'reading' in each);
  return {
    judged: canJudge(
      list,
      good.filter((each) => !('reading' in each)),
    ),
    frames: good.length,
    wrong: wrongFrames(good).length,
    put,
    found,
    ms,
  };
}

/** A pose on the truth, or so many px beside it, into the region. */
function posed(outline: OutlineRow, pass: PassTruth, frame: number, by: number): number[] {
  const points = pass.truth[frame];
  const inward = inwardDirections(outline, points.flat());
  const coordinates = new Array<number>(points.length * N).fill(0);
  points.forEach(([x, y], p) => {
    coordinates[p * N] = x + by * inward[p][0];
    coordinates[p * N + 1] = y + by * inward[p][1];
  });
  return coordinates;
}
