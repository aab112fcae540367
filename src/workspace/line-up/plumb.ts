import { create } from 'zustand';
import { lensFromLines } from '@/core/geometry/lens';
import { setAndFill, turnThatLevels } from '@/core/move/level';
import type { CrossingDocument, LayerRow } from '@/core/document/tables';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { edit } from '../session/edit';
import type { LayerShot } from '../session/traced';
import { setView, useView, type ViewState } from '../view/view-store';
import { isTraced } from './lining-up';
import { layerName } from '../session/layer-name';

/** Lines that a person draws along what should be level, upright or straight; x and y of places by turns, px of the shot. */
interface Plumb {
  /** The layer on whose shot they are drawn; null while none are. */
  layerId: string | null;
  lines: number[][];
  /** The line that is being drawn. */
  open: number[];
  /** What was seen before; null while none are drawn. */
  before: Pick<ViewState, 'view' | 'solo'> | null;
}

const none: Plumb = { layerId: null, lines: [], open: [], before: null };

export const usePlumb = create<Plumb>(() => none);

/** px of the shot by which lines have to bow before straightening them is offered. */
const leastBow = 0.3;

/** Lets lines be drawn on a layer's shot, which is shown alone and whole meanwhile. */
export function beginPlumb(layer: LayerRow) {
  const { view, solo } = useView.getState();
  usePlumb.setState({ ...none, layerId: layer.id, before: { view, solo } });
  const whole = isTraced(layer) ? { view: 'plain' as const } : { solo: layer.id, view: 'result' as const };
  setView({ ...whole, playing: false, draft: null });
}

/** Ends it, and shows what was seen before; lines that were drawn are gone. */
export function endPlumb() {
  const { before } = usePlumb.getState();
  usePlumb.setState(none);
  if (before) setView(before);
}

export function plumbBegun(): boolean {
  return usePlumb.getState().layerId !== null;
}

export function pressPlumb(x: number, y: number) {
  usePlumb.setState(({ open }) => ({ open: [...open, x, y] }));
}

/** Ends the line that is being drawn; one of a single place is dropped. */
export function endLine() {
  usePlumb.setState(({ lines, open }) => ({
    lines: open.length >= 4 ? [...lines, open] : lines,
    open: [],
  }));
}

/** Takes back the last place, or where none is open the last line. */
export function plumbBack() {
  usePlumb.setState(({ lines, open }) =>
    open.length > 0 ? { open: open.slice(0, -2) } : { lines: lines.slice(0, -1) },
  );
}

export interface PlumbOffer {
  layer: LayerRow;
  /** Degrees to turn by so that lines of two places are level or upright; null where there are none. */
  turn: number | null;
  /** λ that straightens those of more places, and how far they bow with it and as they are, px; null where none bows. */
  lens: { lambda: number; off: number; offBefore: number } | null;
}

/** The layer that lines are drawn on, with its shot; null while none are. */
export function plumbLayer(
  { layerId }: Plumb,
  document: CrossingDocument | null,
  shots: readonly ShotMedia[],
): LayerShot | null {
  const layer = document?.layers[layerId ?? ''];
  const shot = layer && shots.find((media) => media.shot.id === layer.shotId)?.shot;
  return document && layer && shot ? { document, layer, shot } : null;
}

/** What the lines that have been drawn ask for. */
export function plumbOffer(
  plumb: Plumb,
  now: CrossingDocument | null,
  shots: readonly ShotMedia[],
  frame: number,
): PlumbOffer | null {
  const { lines } = plumb;
  const on = plumbLayer(plumb, now, shots);
  if (!on) return null;
  const { document, layer, shot } = on;
  const level = lines.filter((line) => line.length === 4);
  const table = { [shot.id]: shot };
  const found = lensFromLines(lines, shot);
  return {
    layer,
    turn: turnThatLevels(document, table, layer, frame, level),
    lens: found && found.offBefore >= leastBow ? found : null,
  };
}

/** What is asked for by the lines as they are. */
export function plumbOfferNow(): PlumbOffer | null {
  const { document, shots } = useDocument.getState();
  return plumbOffer(usePlumb.getState(), document, shots, useView.getState().frame);
}

/** Sets a layer as its lines ask, enlarged by as little as still fills the frame. */
function take(label: string, layer: LayerRow, settings: Partial<LayerRow>) {
  const { document, shots } = useDocument.getState();
  if (!document) return;
  const table = Object.fromEntries(shots.map(({ shot }) => [shot.id, shot]));
  edit(`${label} the ${layerName(layer)}`, setAndFill(document, table, layer, settings));
}

const toHundredths = (value: number) => Math.round(value * 100) / 100;

/** Turns the layer so that its lines are level or upright. */
export function takeLevel() {
  const offer = plumbOfferNow();
  if (!offer || offer.turn === null) return;
  const turn = (offer.layer.turn + offer.turn) % 360;
  take('Level', offer.layer, { turn: toHundredths(turn) });
}

/** Undoes what the lens bends, so that its lines are straight. */
export function takeStraight() {
  const offer = plumbOfferNow();
  if (offer?.lens) setLens(offer.layer, offer.lens.lambda);
}

export function setLens(layer: LayerRow, lambda: number) {
  take('Straighten', layer, { lens: Math.round(lambda * 1e4) / 1e4 });
}
