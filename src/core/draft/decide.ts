import { setCrossing, setLayer } from '../actions/layer-actions';
import { layerTitle, layersInOrder, markedFrame } from '../document/document';
import { changeRow, type RowChange } from '../document/edit';
import { layoutOf, tracedLayer } from '../document/plans';
import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Plan } from '../model/choices';
import { plainTime } from '../model/time';
import type { Shot } from '../model/shot';
import { framesPerSecond, rateOf } from '../time/rate';
import { crossingFrameOf } from '../time/time-map';
import type { Decision } from './decisions';
import { slipOf } from './slip';

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

/**
 * The other shot laid so that it has pictures wherever it is seen, as {@link slipOf} finds.
 *
 * @returns null where there is none, somebody has given it a time already, or opening and closing are not marked.
 */
export function slipped(document: CrossingDocument, shots: Shots): Decided | null {
  const traced = tracedLayer(document);
  const other = layersInOrder(document).find(({ role, visible }) => visible && role !== traced?.role);
  const [tracedShot, shot] = [shots[traced?.shotId ?? ''], shots[other?.shotId ?? '']];
  if (!traced || !other || !tracedShot || !shot || shot.frameCount < 2) return null;
  const marked = (['opens', 'closes'] as const).every((kind) => markedFrame(document, kind) !== undefined);
  if (!marked || !isAsLaidOut(other)) return null;
  const { settings, says, basis, sure } = slipOf(document, { layer: traced, shot: tracedShot }, other, shot);
  return {
    ...{ step: 'Line up', what: `“${layerTitle(other, shot)}” ${says}`, basis, sure },
    changes: setLayer(document, other.id, settings),
  };
}
