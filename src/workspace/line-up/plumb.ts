import { create } from 'zustand';
import { lensFromLines } from '@/core/geometry/lens';
import { setAndFill, turnThatLevels } from '@/core/move/level';
import type { LayerRow } from '@/core/document/rows';
import { useDocument } from '../document/document-store';
import { edit } from '../trace/commands';
import { setView, useView } from '../view-store';
import { isTraced, layerName } from './lining-up';

/** Lines that a person draws along what should be level, upright or straight; x and y of places by turns, px of the shot. */
interface Plumb {
  /** The layer on whose shot they are drawn; null while none are. */
  layerId: string | null;
  lines: number[][];
  /** The line that is being drawn. */
  open: number[];
}

const none: Plumb = { layerId: null, lines: [], open: [] };

export const usePlumb = create<Plumb>(() => none);

/** px of the shot by which lines have to bow before straightening them is offered. */
const leastBow = 0.3;

/** Lets lines be drawn on a layer's shot, which is shown alone and whole meanwhile. */
export function beginPlumb(layer: LayerRow) {
  usePlumb.setState({ ...none, layerId: layer.id });
  const whole = isTraced(layer) ? { view: 'plain' as const } : { solo: layer.id, view: 'result' as const };
  setView({ ...whole, playing: false, draft: null });
}

/** Ends it; lines that were drawn are gone. */
export function endPlumb() {
  const { layerId } = usePlumb.getState();
  if (layerId === null) return;
  usePlumb.setState(none);
  setView(({ solo, view }) => ({
    solo: solo === layerId ? null : solo,
    view: view === 'plain' ? 'result' : view,
  }));
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

/** What the lines that have been drawn ask for. */
export function plumbOffer({ layerId, lines }: Plumb): PlumbOffer | null {
  const { document, shots } = useDocument.getState();
  const layer = document?.layers[layerId ?? ''];
  const shot = layer && shots.find((media) => media.shot.id === layer.shotId)?.shot;
  if (!document || !layer || !shot) return null;
  const level = lines.filter((line) => line.length === 4);
  const table = { [shot.id]: shot };
  const found = lensFromLines(lines, shot);
  return {
    layer,
    turn: turnThatLevels(document, table, layer, useView.getState().frame, level),
    lens: found && found.offBefore >= leastBow ? found : null,
  };
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
  const offer = plumbOffer(usePlumb.getState());
  if (!offer || offer.turn === null) return;
  const turn = (offer.layer.turn + offer.turn) % 360;
  take('Level', offer.layer, { turn: toHundredths(turn) });
}

/** Undoes what the lens bends, so that its lines are straight. */
export function takeStraight() {
  const offer = plumbOffer(usePlumb.getState());
  if (offer?.lens) take('Straighten', offer.layer, { lens: Math.round(offer.lens.lambda * 1e4) / 1e4 });
}
