import { framesPhrase, stretches } from '@/core/checks/findings';
import { applyChanges, layersInOrder, markedFrame } from '@/core/document/document';
import { changeRow, type RowChange } from '@/core/document/edit';
import { framesLost, type RampRemedy, rampRemedies, readyRamp, usualHeight } from '@/core/move/ready-ramp';
import { setLayer } from '@/core/actions/layer-actions';
import type { CrossingDocument, LayerRow } from '@/core/document/tables';
import { sourceAt } from '@/core/time/frame-table';
import { rampPercentAt } from '@/core/time/ramp';
import { useDocument } from '../document/document-store';
import { layerName } from '../session/layer-name';
import { edit } from '../session/edit';
import { framePhrase } from '../session/in-hand';
import { tracedNow } from '../session/traced';
import { setView, useView } from '../view/view-store';
import { moverNow } from './mover';

/** What a person does to a layer's speed by keys, or to that of all at once where the whole picture is taken in hand. */

export interface RampKey {
  frame: number;
  percent: number;
}

export function rampKeys({ ramp }: Pick<LayerRow, 'ramp'>): RampKey[] {
  return Array.from({ length: ramp.length / 2 }, (_, k) => ({
    frame: ramp[2 * k],
    percent: ramp[2 * k + 1],
  }));
}

/** The layer whose speed is set, or stands for all: the one that moves, else the traced one, else the top one. */
export function rampedLayer(): LayerRow | null {
  const { document } = useDocument.getState();
  if (!document) return null;
  const chosen = document.layers[useView.getState().moverId ?? ''];
  return chosen ?? tracedNow()?.layer ?? layersInOrder(document).at(-1) ?? null;
}

/** The frame that a first key leaves as it is: where the crossing opens. */
function anchorOf(layer: LayerRow): number {
  const { document } = useDocument.getState();
  if (layer.ramp.length > 0 || !document) return layer.rampAt;
  return markedFrame(document, 'opens') ?? 0;
}

function listOf(keys: readonly RampKey[]): number[] {
  const byFrame = new Map(keys.map(({ frame, percent }) => [frame, percent]));
  return [...byFrame].sort((a, b) => a[0] - b[0]).flat();
}

/** @param stays the crossing frame on which every shot goes on showing what it shows; null: the ramp's own. */
function put(
  layer: LayerRow,
  label: string,
  keys: readonly RampKey[],
  {
    stays = null,
    draft = false,
    ...rest
  }: Partial<LayerRow> & { stays?: number | null; draft?: boolean } = {},
) {
  const { document, shots } = useDocument.getState();
  if (!document) return;
  const settings = { ramp: listOf(keys), rampAt: anchorOf(layer), rampRound: layer.rampRound, ...rest };
  // Where the whole picture is in hand, all its layers are given the same.
  const whole = moverNow() === document.crossing.id;
  const changes = (whole ? layersInOrder(document) : [layer]).flatMap((each) => {
    // As it is kept, not as a hand that drags shows it.
    const own = document.layers[each.id];
    const shot = shots.find((media) => media.shot.id === own.shotId)?.shot;
    if (stays === null || !shot) return setLayer(document, own.id, settings);
    const shown = (ramped: Partial<LayerRow>) =>
      sourceAt({ ...own, ...ramped, holdFrom: null }, document.crossing, shot, stays);
    const ramp = { ...settings, rampAt: stays };
    return setLayer(document, own.id, { ...ramp, offset: own.offset + shown({}) - shown(ramp) });
  });
  const name = whole ? 'whole crossing' : layerName(layer);
  if (draft) setView({ draft: changes });
  else {
    edit(`${label} the ${name}`, changes);
    setView({ draft: null });
  }
}

/** Sets the speed on this frame, in percent of the layer's own, and so makes a key there. */
export function changeSpeedHere(percent: number) {
  const layer = rampedLayer();
  const { frame } = useView.getState();
  if (layer)
    put(layer, `Speed on ${framePhrase()} of`, [...rampKeys(layer), { frame, percent }], { stays: frame });
}

/** Makes a key of the speed on this frame, or takes the one that is there away. */
export function toggleSpeedKey() {
  const layer = rampedLayer();
  const { frame } = useView.getState();
  if (!layer) return;
  const keys = rampKeys(layer);
  const left = keys.filter((key) => key.frame !== frame);
  if (left.length < keys.length) put(layer, `Remove a speed key of`, left);
  else put(layer, `Key the speed of`, [...keys, { frame, percent: rampPercentAt(layer.ramp, frame) }]);
}

/** Keys dragged along the frames; none leaves the crossing. @returns the frames of those that stood where they went, and gave way. */
export function dragSpeedKeys(
  layer: LayerRow,
  frames: ReadonlySet<number>,
  by: number,
  draft: boolean,
): number[] {
  const { document } = useDocument.getState();
  if (!document || frames.size === 0) return [];
  const shift = Math.max(
    -Math.min(...frames),
    Math.min(document.crossing.length - 1 - Math.max(...frames), by),
  );
  const keys = rampKeys(layer);
  const moved = keys
    .filter(({ frame }) => frames.has(frame))
    .map((key) => ({ ...key, frame: key.frame + shift }));
  if (!draft && shift === 0) {
    setView({ draft: null });
    return [];
  }
  const others = keys.filter(({ frame }) => !frames.has(frame));
  put(layer, 'Shift speed keys of', [...others, ...moved], { draft });
  if (!draft) setView({ moveKeys: new Set(moved.map(({ frame }) => speedKeyId(frame))) });
  return others.map(({ frame }) => frame).filter((frame) => moved.some((key) => key.frame === frame));
}

export function dragSpeed(layer: LayerRow, at: number, percent: number, draft: boolean) {
  const keys = rampKeys(layer).map((key) => (key.frame === at ? { ...key, percent } : key));
  put(layer, `Speed on frame ${at} of`, keys, { stays: at, draft });
}

export function removeSpeedKeys(frames: ReadonlySet<number>) {
  const layer = rampedLayer();
  if (layer)
    put(
      layer,
      'Remove speed keys of',
      rampKeys(layer).filter(({ frame }) => !frames.has(frame)),
      { stays: useView.getState().frame },
    );
}

export function changeRamp(label: string, settings: Pick<LayerRow, 'rampRound'> | Pick<LayerRow, 'rampAt'>) {
  const layer = rampedLayer();
  if (layer) put(layer, label, rampKeys(layer), settings);
}

export function noRamp() {
  const layer = rampedLayer();
  if (layer) put(layer, 'Remove ramp', [], { stays: useView.getState().frame });
}

/** The frames that a ready ramp took away, in words, and the ways to do without them. */
export interface RampLoss {
  says: string;
  remedies: RampRemedy[];
}

/** A ready ramp over a stretch of frames; its middle stays. Returns why there is none, or what it took away. */
export function runReadyRamp(from: number, to: number): string | RampLoss | null {
  const layer = rampedLayer();
  const { document, shots } = useDocument.getState();
  if (!layer || !document) return null;
  const whole = moverNow() === document.crossing.id;
  const ids = whole ? layersInOrder(document).map(({ id }) => id) : [layer.id];
  const pinned = layer.ramp.length > 0 ? layer.rampAt : Math.round((from + to) / 2);
  const ramp = { from, to, percent: usualHeight, pinned };
  const changes = readyRamp(document, ids, ramp);
  if (changes.length === 0)
    return 'A ramp needs at least four frames. Set the first and the last frame farther apart.';
  const name = whole ? 'whole crossing' : layerName(layer);
  if (!edit(`Ramp the ${name}`, changes)) return null;
  setView({ lane: 'speed', draft: null });
  const table = Object.fromEntries(shots.map(({ shot }) => [shot.id, shot]));
  const lost = framesLost(document, applyChanges(document, changes), table, ramp);
  if (lost.length === 0) return null;
  const gaps = stretches(lost.map((frame) => ({ frame, measure: 0 })));
  const frames = gaps.map((gap) => framesPhrase(gap).replace('Frame', 'frame')).join(' and ');
  return {
    says: `At this speed the footage runs out: ${frames} ${lost.length === 1 ? 'has' : 'have'} no picture.`,
    remedies: rampRemedies(document, table, ids, ramp),
  };
}

/** Takes a way out, in place of the ramp that was made just now. */
export function remedyRamp({ does, changes }: RampRemedy) {
  const { document } = useDocument.getState();
  if (document) edit(does, rebased(document, changes));
}

/** Changes that were made from an earlier state of the same rows, made from these. */
function rebased(document: CrossingDocument, changes: readonly RowChange[]): RowChange[] {
  const last = new Map(changes.map((change) => [`${change.table} ${change.id}`, change]));
  return [...last.values()].flatMap((change) => {
    if (change.table === 'layer' && change.after)
      return [changeRow('layer', document.layers[change.id] ?? null, change.after)];
    if (change.table === 'crossing' && change.after)
      return [changeRow('crossing', document.crossing, change.after)];
    return [];
  });
}

export function speedKeyId(frame: number): string {
  return `speed@${frame}`;
}

/** The frames of the speed keys among selected ones. */
export function speedFrames(keys: ReadonlySet<string>): Set<number> {
  return new Set([...keys].flatMap((id) => (id.startsWith('speed@') ? [Number(id.slice(6))] : [])));
}
