import { setCrossing, setLayer } from '../actions/layer-actions';
import { rankPartners } from '../checks/partners';
import { layerTitle, layersInOrder, markedFrame, playedRange } from '../document/document';
import { changeRow, type RowChange } from '../document/edit';
import { layoutOf, tracedLayer } from '../document/plans';
import type { CrossingDocument, LayerRow } from '../document/tables';
import { shownSourceFrame } from '../compose/source-frames';
import type { Plan } from '../model/choices';
import { plainTime } from '../model/time';
import type { Shot } from '../model/shot';
import { framesPerSecond, rateOf } from '../time/rate';
import { crossingFrameOf, offsetAt } from '../time/time-map';
import type { Decision } from './decisions';

/** What the first draft decides of a crossing's plan and time: each with the changes that make it. */
export interface Decided extends Decision {
  changes: RowChange[];
}

type Shots = Readonly<Record<string, Shot>>;

/** Plans between which a crossing can go over without its layers being made anew. */
const exchangeable: readonly Plan[] = ['pass-by', 'arrival', 'opening'];

/**
 * Lays a crossing out by another plan: its two layers change places where they have to.
 *
 * @returns null where it cannot: the plan wants other layers, or something is traced already.
 */
export function relaid(document: CrossingDocument, plan: Plan, shots: Shots): RowChange[] | null {
  const layers = layersInOrder(document);
  const wanted = layoutOf(plan).layers;
  const able = exchangeable.includes(plan) && exchangeable.includes(document.crossing.plan);
  if (!able || layers.length !== wanted.length || Object.keys(document.outlines).length > 0) return null;
  const found = wanted.map(({ role }) => layers.find((layer) => layer.role === role));
  if (found.some((layer) => !layer)) return null;
  const traced = found.find((layer) => layer!.role === layoutOf(plan).traced)!;
  const shot = shots[traced.shotId];
  const before = tracedLayer(document);
  const plain = { ...plainTime, ...traced };
  // A crossing is as long as what is traced, unless somebody has given it another length.
  const lengthOf = (layer: LayerRow | null, of: Shot | undefined) =>
    layer && of ? crossingFrameOf(of.frameCount, layer, rateOf(document.crossing), of) : null;
  const usual = lengthOf(before, before ? shots[before.shotId] : undefined) === document.crossing.length;
  const length = usual ? (lengthOf(plain, shot) ?? document.crossing.length) : document.crossing.length;
  return [
    ...setCrossing(document, { plan, length: Math.max(1, length) }),
    ...found.map((layer, position) =>
      changeRow('layer', layer!, {
        ...layer!,
        position,
        keeps: wanted[position].keeps ?? false,
        traced: false,
      }),
    ),
  ];
}

/** Seconds that are played before the opening and after the closing (common practice, no source). */
const around = 1;

/** What is played: from a second before the opening to a second after the closing, as far as there is that much. */
export function inAndOut({ crossing }: CrossingDocument, opens: number, closes: number): [number, number] {
  const second = Math.round(around * framesPerSecond(rateOf(crossing)));
  return [Math.max(0, opens - second), Math.min(crossing.length - 1, closes + second)];
}

/** Whether a layer's time is as it was laid out. */
const isAsLaidOut = ({ offset, speed, reverse, holdFrom, ramp }: LayerRow) =>
  offset === plainTime.offset &&
  speed === plainTime.speed &&
  !reverse &&
  holdFrom === null &&
  ramp.length === 0;

/** Crossing frames by which what comes in has pictures before the opening. */
const lead = 5;
/** Lowest speed, in percent, at which a shot that is too short is slowed down rather than frozen (common practice, no source). */
const slowest = 50;

/**
 * The other shot laid so that it has pictures wherever it is seen: where both are measured, at the place at which it moves most
 * like the traced one; else it begins a little before the opening. One that is too short runs slower, or is frozen.
 *
 * @returns null where there is none, somebody has given it a time already, or opening and closing are not marked.
 */
export function slipped(document: CrossingDocument, shots: Shots): Decided | null {
  const traced = tracedLayer(document);
  const other = layersInOrder(document).find(({ role, visible }) => visible && role !== traced?.role);
  const [tracedShot, shot] = [shots[traced?.shotId ?? ''], shots[other?.shotId ?? '']];
  if (!traced || !other || !tracedShot || !shot || shot.frameCount < 2) return null;
  const [opens, closes] = [markedFrame(document, 'opens'), markedFrame(document, 'closes')];
  if (opens === undefined || closes === undefined || !isAsLaidOut(other)) return null;
  const [first, last] = playedRange(document);
  const comesIn = other.role === 'incoming';
  const [from, to] = comesIn ? [Math.max(first, opens - lead), last] : [first, Math.min(last, closes + lead)];
  const name = layerTitle(other, shot);
  const lacking = (settings: Partial<LayerRow>) => {
    let count = 0;
    for (let frame = from; frame <= to; frame++)
      if (shownSourceFrame(document, { ...other, ...settings }, shot, frame) === null) count++;
    return count;
  };
  const decided = (
    settings: Partial<LayerRow>,
    what: string,
    basis: string,
    sure: Decision['sure'],
  ): Decided => ({
    ...{ step: 'Line up', what, basis, sure },
    changes: setLayer(document, other.id, settings),
  });
  const [best] = rankPartners(document, { layer: traced, shot: tracedShot }, other, [shot]);
  if (best && lacking(best.settings) === 0)
    return decided(
      best.settings,
      `“${name}” slipped to where it fits best`,
      `${best.says[0].toUpperCase()}${best.says.slice(1)}.`,
      best.cost < 2 ? 'sure' : 'likely',
    );
  const rate = rateOf(document.crossing);
  const begun = (speed: number): Partial<LayerRow> => {
    const time = { ...plainTime, speed };
    const offset = offsetAt(0, from, time, rate, shot);
    // Rounded, its first frame may come one crossing frame later.
    return { ...time, offset: lacking({ ...time, offset }) > 0 ? offset + 1 : offset };
  };
  const plain = begun(100);
  if (lacking(plain) === 0)
    return decided(
      plain,
      `“${name}” starts at frame ${from}`,
      comesIn
        ? 'A little before the opening, with pictures to the end.'
        : 'It has pictures up to the closing.',
      best ? 'likely' : 'sure',
    );
  const needed = to - from + 1;
  const there = crossingFrameOf(shot.frameCount, plainTime, rate, shot);
  const speed = Math.floor((100 * (there - 1)) / needed);
  if (speed >= slowest && lacking(begun(speed)) === 0)
    return decided(
      begun(speed),
      `“${name}” runs at ${speed} %`,
      `It has ${there} frames, and ${needed} are seen.`,
      'likely',
    );
  return decided(
    { ...plain, holdFrom: shot.frameCount - 1 },
    `“${name}” is frozen at its end`,
    `It has ${there} frames, and ${needed} are seen: too few to run slower.`,
    'likely',
  );
}
