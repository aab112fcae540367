import { applyChanges, layersInOrder, playedRange } from '../document/document';
import { shownRange, shownSourceFrame, type Shots } from '../compose/source-frames';
import type { CrossingDocument, LayerRow } from '../document/tables';
import type { RowChange } from '../document/edit';
import { setCrossing, setLayer } from '../actions/layer-actions';

/** Percent of the ready ramp at its height (common practice, no source), and frames over which its corners are rounded. */
export const usualHeight = 340;
const rounding = 8;

/** Over which frames the ready ramp runs, and how high. */
export interface ReadyRamp {
  from: number;
  to: number;
  percent: number;
  /** The crossing frame that it leaves as it is. */
  pinned: number;
}

/** Layers given the ready ramp: up within its first third, down within its last. None where it has less than four frames. */
export function readyRamp(
  document: CrossingDocument,
  layerIds: readonly string[],
  { from, to, percent, pinned }: ReadyRamp,
): RowChange[] {
  const third = Math.floor((to - from) / 3);
  if (third < 1) return [];
  const ramp = [from, 100, from + third, percent, to - third, percent, to, 100];
  return layerIds.flatMap((id) => setLayer(document, id, { ramp, rampAt: pinned, rampRound: rounding }));
}

/**
 * Played frames on which a shot had a picture and has none any more: of the outgoing shot up to the ramp's end, of the incoming
 * one from its beginning on, of others all.
 */
export function framesLost(
  before: CrossingDocument,
  after: CrossingDocument,
  shots: Shots,
  { from, to }: Pick<ReadyRamp, 'from' | 'to'>,
): number[] {
  const [first, last] = playedRange(before);
  const lost: number[] = [];
  for (let frame = first; frame <= last; frame++) {
    const isLost = layersInOrder(before).some((layer) => {
      const shot = shots[layer.shotId];
      if (!shot || !layer.visible) return false;
      if ((layer.role === 'outgoing' && frame > to) || (layer.role === 'incoming' && frame < from))
        return false;
      const has = (document: CrossingDocument) =>
        shownSourceFrame(document, document.layers[layer.id], shot, frame) !== null;
      return has(before) && !has(after);
    });
    if (isLost) lost.push(frame);
  }
  return lost;
}

/** A way to do without the pictures that a ramp takes away. */
export interface RampRemedy {
  does: string;
  changes: RowChange[];
}

/** The ways to do without pictures that a ready ramp takes away, made in place of it. */
export function rampRemedies(
  before: CrossingDocument,
  shots: Shots,
  layerIds: readonly string[],
  ramp: ReadyRamp,
): RampRemedy[] {
  const remedies: RampRemedy[] = [];
  const lostBy = (changes: readonly RowChange[]) =>
    framesLost(before, applyChanges(before, changes), shots, ramp).length;
  const slower = slowedDown(ramp, (other) => lostBy(readyRamp(before, layerIds, other)) === 0);
  if (slower)
    remedies.push({
      does: `Slow it down to ${slower.percent} %`,
      changes: readyRamp(before, layerIds, slower),
    });
  // Before the ramp nothing changes then, and what runs out does so at the end.
  const pinned = readyRamp(before, layerIds, { ...ramp, pinned: beginning(ramp) });
  const after = applyChanges(before, pinned);
  const held = [...pinned, ...layerIds.flatMap((id) => heldEnd(after, shots, id))];
  if (lostBy(held) === 0) remedies.push({ does: 'Freeze the last frames', changes: held });
  const plain = readyRamp(before, layerIds, ramp);
  const shorter = shortened(before, applyChanges(before, plain), shots, ramp);
  if (shorter)
    remedies.push({
      does: `Play frames ${shorter[0]} to ${shorter[1]} only`,
      changes: [...plain, ...setCrossing(before, { inFrame: shorter[0], outFrame: shorter[1] })],
    });
  return remedies;
}

/** The frame up to which a ramp leaves all as it is: its corners begin before it does. */
const beginning = ({ from }: ReadyRamp) => Math.max(0, from - Math.ceil(rounding / 2));

/** The highest ramp, in steps of ten percent, that fits, with its middle or its beginning left as it is; null: none does. */
function slowedDown(ramp: ReadyRamp, fits: (ramp: ReadyRamp) => boolean): ReadyRamp | null {
  for (let percent = ramp.percent - 10; percent > 100; percent -= 10)
    for (const pinned of [ramp.pinned, beginning(ramp)]) {
      const other = { ...ramp, percent, pinned };
      if (fits(other)) return other;
    }
  return null;
}

/** A layer frozen at the end of its shot. */
function heldEnd(document: CrossingDocument, shots: Shots, layerId: string): RowChange[] {
  const layer: LayerRow = document.layers[layerId];
  const shot = shots[layer.shotId];
  if (!shot || layer.holdFrom !== null) return [];
  const [first, last] = shownRange(layer, shot);
  return setLayer(document, layerId, { holdFrom: layer.reverse ? first : last });
}

/** The longest stretch of played frames about the ramp's middle that keeps its pictures; null: none. */
function shortened(
  before: CrossingDocument,
  after: CrossingDocument,
  shots: Shots,
  ramp: ReadyRamp,
): [first: number, last: number] | null {
  const lost = new Set(framesLost(before, after, shots, ramp));
  let [first, last] = [ramp.pinned, ramp.pinned];
  if (lost.has(first)) return null;
  const [low, high] = playedRange(before);
  while (first > low && !lost.has(first - 1)) first--;
  while (last < high && !lost.has(last + 1)) last++;
  return [first, last];
}
