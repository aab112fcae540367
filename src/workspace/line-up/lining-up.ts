import { layerSourceFrame, shownRange } from '@/core/compose/source-frames';
import {
  addLayer,
  exchangeLayers,
  markEdge as markedOnEdge,
  moveLayer,
  putMark,
  removeLayer,
  removeMark,
  setCrossing,
  setLayer,
  traceOn,
} from '@/core/actions/layer-actions';
import { duplicateLayer, type TakenAlong } from '@/core/actions/duplicate-layer';
import { layerTitle } from '@/core/document/document';
import { limits } from '@/core/model/limits';
import type { LayerRow, MarkRow } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import type { Rate } from '@/core/model/time';
import { takeAt } from '@/core/motion/cuts';
import { sourceFrameAt, withSpeed } from '@/core/time/time-map';
import { useDocument } from '../document/document-store';
import { tracedNow } from '../session/traced';
import { setView, useView } from '../view/view-store';
import { layerName } from '../session/layer-name';
import { edit } from '../session/edit';
import type { ShotMedia } from '@/wire/answers';

/** What a person does to lay the shots out in time and in the picture; each makes at most one edit. */

/** The layer in hand: the one chosen, else the one that comes in. */
export function layerInHand(): LayerRow | null {
  const { document } = useDocument.getState();
  if (!document) return null;
  const layers = Object.values(document.layers).sort((a, b) => b.position - a.position);
  const { layerId } = useView.getState();
  return (
    layers.find(({ id }) => id === layerId) ??
    layers.find(({ role }) => role === 'incoming') ??
    layers[0] ??
    null
  );
}

/** Takes the next layer's column in hand, from the top down. */
export function nextLayer() {
  const { document } = useDocument.getState();
  const layers = Object.values(document?.layers ?? {}).sort((a, b) => b.position - a.position);
  const at = layers.findIndex(({ id }) => id === layerInHand()?.id);
  if (layers.length > 0) setView({ layerId: layers[(at + 1) % layers.length].id });
}

export function shotIn(shots: readonly ShotMedia[], layer: LayerRow): Shot | null {
  return shots.find(({ shot }) => shot.id === layer.shotId)?.shot ?? null;
}

export function shotOfLayer(layer: LayerRow): Shot | null {
  return shotIn(useDocument.getState().shots, layer);
}

function crossingRate(): Rate {
  const { rateNum, rateDen } = useDocument.getState().document!.crossing;
  return { num: rateNum, den: rateDen };
}

/** Some of a layer's settings, changed. */
export function changeLayer(label: string, layer: LayerRow, settings: Partial<LayerRow>) {
  setView({ draft: null });
  const { document } = useDocument.getState();
  if (document) edit(label, setLayer(document, layer.id, settings));
}

/** Shows a layer's settings while a hand still drags. */
export function draftLayer(layer: LayerRow, settings: Partial<LayerRow>) {
  const { document } = useDocument.getState();
  if (document) setView({ draft: setLayer(document, layer.id, settings) });
}

/** The layer's offset when its shot shows each frame `by` crossing frames later than now. */
export function slippedOffset(layer: LayerRow, shot: Shot, by: number): number {
  return sourceFrameAt(-by, { ...layer, holdFrom: null }, crossingRate(), { rate: shot.rate });
}

/** Slips the shot in hand: each of its frames comes `by` crossing frames later. */
export function slip(by: number): string | null {
  const layer = layerInHand();
  const shot = layer && shotOfLayer(layer);
  if (!layer || !shot || by === 0) return null;
  setView({ layerId: layer.id });
  const way = `${Math.abs(by)} ${Math.abs(by) === 1 ? 'frame' : 'frames'} ${by > 0 ? 'later' : 'earlier'}`;
  // Slower than the crossing, a step of the shot is several frames long: it moves by one at least.
  const offset = slippedOffset(layer, shot, by);
  const least = layer.reverse ? Math.sign(by) : -Math.sign(by);
  changeLayer(`Slip the ${layerName(layer)} ${way}`, layer, {
    offset: offset === layer.offset ? offset + least : offset,
  });
  return null;
}

/** Another speed or direction, so that the frame in view goes on showing what it showed. */
export function setSpeed(layer: LayerRow, change: { speed?: number; reverse?: boolean }) {
  const shot = shotOfLayer(layer);
  if (!shot) return;
  const speed = change.speed === undefined ? layer.speed : Math.round(change.speed * 100) / 100;
  const reverse = change.reverse ?? layer.reverse;
  const map = withSpeed(layer, { speed, reverse }, useView.getState().frame, crossingRate(), shot.rate);
  const label =
    change.reverse === undefined
      ? `Run the ${layerName(layer)} at ${speed} %`
      : `Run the ${layerName(layer)} ${reverse ? 'backwards' : 'forwards'}`;
  changeLayer(label, layer, { speed, reverse, offset: map.offset, holdFrom: map.holdFrom });
}

/** Source frame that the layer shows at the frame in view, within its shot. */
export function sourceHere(layer: LayerRow): number | null {
  const { document } = useDocument.getState();
  const shot = shotOfLayer(layer);
  if (!document || !shot) return null;
  const source = layerSourceFrame(document, layer, shot, useView.getState().frame);
  return source >= 0 && source < shot.frameCount ? source : null;
}

export function toggleFreeze(layer: LayerRow): string | null {
  if (layer.holdFrom !== null) {
    changeLayer(`Let the ${layerName(layer)} run on`, layer, { holdFrom: null });
    return null;
  }
  const source = sourceHere(layer);
  if (source === null)
    return 'The shot has no picture on this frame. Go to a frame that shows it, then freeze.';
  changeLayer(`Freeze the ${layerName(layer)} from its frame ${source}`, layer, { holdFrom: source });
  return null;
}

/** Holds the shot's last frame (the first, when it runs backwards) for as long as it takes. */
export function freezeEnd(layer: LayerRow) {
  const shot = shotOfLayer(layer);
  if (!shot) return;
  const [first, last] = shownRange(layer, shot);
  changeLayer(`Freeze the last frame of the ${layerName(layer)}`, layer, {
    holdFrom: layer.reverse ? first : last,
  });
}

/** Trims the shot in hand to begin, or to end, at the frame in view. */
export function trimHere(end: 'start' | 'end'): string | null {
  const layer = layerInHand();
  const source = layer && sourceHere(layer);
  if (!layer) return null;
  if (source === null)
    return 'The shot in hand has no picture on this frame. Go to a frame that shows it, then trim.';
  const first = (end === 'start') !== layer.reverse;
  const other = first ? layer.trimOut : layer.trimIn;
  if (other !== null && (first ? source > other : source < other))
    return 'That would leave nothing of the shot. Trim on a frame farther inside it.';
  changeLayer(
    `Trim the ${end} of the ${layerName(layer)}`,
    layer,
    first ? { trimIn: source } : { trimOut: source },
  );
  return null;
}

/** Trims a layer to the take of its footage that the frame in view belongs to. */
export function trimToTake(layer: LayerRow): string | null {
  const shot = shotOfLayer(layer);
  const source = sourceHere(layer);
  if (!shot || source === null)
    return 'The shot has no picture on this frame. Go to a frame of the take that you want.';
  const [first, last] = takeAt(shot, source);
  changeLayer(`Trim the ${layerName(layer)} to a take`, layer, {
    trimIn: first === 0 ? null : first,
    trimOut: last === shot.frameCount - 1 ? null : last,
  });
  return null;
}

export function extendAll(layer: LayerRow) {
  changeLayer(`Show all of the ${layerName(layer)}`, layer, { trimIn: null, trimOut: null });
}

/** The crossing begins, or ends, at the frame in view. */
export function setRangeHere(end: 'in' | 'out'): string | null {
  const { document } = useDocument.getState();
  const { frame } = useView.getState();
  if (!document) return null;
  const { crossing } = document;
  if (end === 'in' && frame > (crossing.outFrame ?? crossing.length - 1))
    return 'The in point would lie after the out point. Move the out point first.';
  if (end === 'out' && frame < crossing.inFrame)
    return 'The out point would lie before the in point. Move the in point first.';
  const settings =
    end === 'in' ? { inFrame: frame } : { outFrame: frame === crossing.length - 1 ? null : frame };
  edit(`Set the ${end}, frame ${frame}`, setCrossing(document, settings));
  return null;
}

export function clearRange() {
  const { document } = useDocument.getState();
  if (document) edit('Play all of the crossing', setCrossing(document, { inFrame: 0, outFrame: null }));
}

const markNames = { mark: 'Mark', opens: 'Opens', closes: 'Closes' };

/** Marks a frame; *opens* and *closes* are there once each and move. The same mark again is taken away. */
export function markFrame(kind: MarkRow['kind'], frame = useView.getState().frame) {
  const { document } = useDocument.getState();
  if (!document) return;
  const marks = Object.values(document.marks);
  const here = marks.find((mark) => mark.frame === frame && mark.kind === kind);
  if (here) return edit(`Remove “${here.name}”`, removeMark(here));
  const moved = kind === 'mark' ? undefined : marks.find((mark) => mark.kind === kind);
  const number = 1 + marks.filter((mark) => mark.kind === 'mark').length;
  const name = moved?.name ?? (kind === 'mark' ? `Mark ${number}` : markNames[kind]);
  const after: MarkRow = { id: moved?.id ?? crypto.randomUUID(), frame, kind, name };
  edit(`${name}, frame ${frame}`, [putMark(document, after)]);
}

/** Marks the first and the last frame of the moving edge in one edit. */
export function markEdge(opens: number, closes: number) {
  const { document } = useDocument.getState();
  if (!document) return;
  const changes = markedOnEdge(document, { opens, closes }, () => crypto.randomUUID());
  edit(`Opens at ${opens}, closes at ${closes}`, changes);
}

export function changeMark(mark: MarkRow, settings: Partial<MarkRow> | null) {
  const { document } = useDocument.getState();
  if (!document) return;
  if (settings) edit(`Change “${mark.name}”`, [putMark(document, { ...mark, ...settings })]);
  else edit(`Remove “${mark.name}”`, removeMark(mark));
}

export function goToMark(direction: 1 | -1): string | null {
  const { document } = useDocument.getState();
  const { frame } = useView.getState();
  const frames = Object.values(document?.marks ?? {}).map((mark) => mark.frame);
  const target =
    direction > 0
      ? Math.min(...frames.filter((each) => each > frame))
      : Math.max(...frames.filter((each) => each < frame));
  if (!Number.isFinite(target)) return `There is no mark ${direction > 0 ? 'after' : 'before'} this frame.`;
  setView({ frame: target, playing: false, draft: null });
  return null;
}

/** Another shot in a layer's place; its outlines stay. Returns a warning when the sizes differ. */
export function replaceShot(layer: LayerRow, shot: Shot, settings: Partial<LayerRow> = {}): string | null {
  const before = shotOfLayer(layer);
  const outlines = Object.values(useDocument.getState().document!.outlines).filter(
    (row) => row.layerId === layer.id,
  );
  changeLayer(`Take “${shot.name}” as the ${layerName(layer)}`, layer, {
    shotId: shot.id,
    trimIn: null,
    trimOut: null,
    holdFrom: shot.frameCount === 1 ? 0 : null,
    ...settings,
  });
  if (!before || outlines.length === 0 || (before.width === shot.width && before.height === shot.height))
    return null;
  return `“${shot.name}” is ${shot.width} × ${shot.height}, “${before.name}” was ${before.width} × ${before.height}: the outlines stay at the pixels they were traced on. Ctrl Z brings the other shot back.`;
}

/** Two layers exchange their shots, with their place in time; outlines stay with the shot they are traced on. */
export function swapRoles(a: LayerRow, b: LayerRow) {
  edit(`Swap the ${layerName(a)} and the ${layerName(b)}`, exchangeLayers(a, b));
}

/** Moves a layer up (1) or down (−1) past its neighbour. */
export function moveInStack(layer: LayerRow, by: 1 | -1) {
  const { document } = useDocument.getState();
  if (document)
    edit(`Move the ${layerName(layer)} ${by > 0 ? 'up' : 'down'}`, moveLayer(document, layer.id, by));
}

/** One more layer under all others, not visible yet: a shot to compare with. */
export function addToStack(row: LayerRow, name: string) {
  edit(`Add “${name}”`, addLayer(row));
}

/** Traces on a layer from now on. */
export function traceHere(layer: LayerRow) {
  const { document } = useDocument.getState();
  if (!document) return;
  edit(`Trace on the ${layerName(layer)}`, traceOn(document, layer.id));
  setView({ outlineId: null, points: new Set() });
}

/** Gives a layer a name of its own; none: its shot's. */
export function nameLayer(layer: LayerRow, name: string) {
  const next = name.trim() === '' || name === shotOfLayer(layer)?.name ? null : name.trim();
  if (next !== layer.name)
    changeLayer(next === null ? 'Reset a layer’s name' : `Name a layer “${next}”`, layer, {
      name: next,
    });
}

/** One more layer of a layer's shot, with what is taken along; takes it in hand. */
export function duplicate(layer: LayerRow, above: boolean, along: TakenAlong) {
  const { document } = useDocument.getState();
  if (!document) return;
  const shot = shotOfLayer(layer);
  const titles = new Set(Object.values(document.layers).map((each) => layerTitle(each, shotOfLayer(each))));
  const title = layerTitle(layer, shot);
  let number = 2;
  while (titles.has(`${title} ${number}`)) number++;
  const name = `${title.slice(0, limits.name - 5)} ${number}`;
  const { id, changes } = duplicateLayer(
    document,
    layer.id,
    { above, along, name, still: shot?.frameCount === 1 },
    () => crypto.randomUUID(),
  );
  if (edit(`Duplicate the ${layerName(layer)}`, changes)) setView({ layerId: id });
}

/** @returns why it cannot be taken away, or null when it was. */
export function takeFromStack(layer: LayerRow): string | null {
  const { document } = useDocument.getState();
  if (!document) return null;
  if (Object.keys(document.layers).length < 2) return 'A crossing needs one layer at least.';
  const outlines = Object.values(document.outlines);
  if (outlines.some((row) => row.layerId === layer.id || row.cutsLayerId === layer.id))
    return 'This layer has outlines; remove them first, or hide the layer.';
  edit(`Remove the ${layerName(layer)}`, removeLayer(document, layer.id));
  return null;
}

/** Whether this layer is the one traced. */
export function isTraced(layer: LayerRow): boolean {
  return tracedNow()?.layer.id === layer.id;
}
