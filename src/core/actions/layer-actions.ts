import type { CrossingDocument, ChromaRow, CrossingRow, LayerRow, MarkRow } from '../document/tables';
import { layersInOrder } from '../document/document';
import { changeRow, type RowChange } from '../document/edit';
import { movesAlong } from './move-actions';
import { removePiece } from './piece-actions';

/** What one action does to a crossing, its layers, marks and keyed colours; each returns the row changes of one edit. */

export function setCrossing({ crossing }: CrossingDocument, settings: Partial<CrossingRow>): RowChange[] {
  return [changeRow('crossing', crossing, { ...crossing, ...settings })];
}

/** Sets a layer for all frames; its keys, if it has any, go along. */
export function setLayer(
  document: CrossingDocument,
  layerId: string,
  settings: Partial<LayerRow>,
): RowChange[] {
  const layer = document.layers[layerId];
  if (!layer) return [];
  const after = { ...layer, ...settings };
  return [changeRow('layer', layer, after), ...movesAlong(document, layer, after)];
}

/** Chooses the layer that is traced on. */
export function traceOn({ layers }: CrossingDocument, layerId: string): RowChange[] {
  return Object.values(layers)
    .filter(({ id, traced }) => traced !== (id === layerId))
    .map((layer) => changeRow('layer', layer, { ...layer, traced: layer.id === layerId }));
}

/** One more layer. */
export function addLayer(layer: LayerRow): RowChange[] {
  return [changeRow('layer', null, layer)];
}

/** Two layers exchange what they do and where they lie; outlines stay with the shot they are traced on. */
export function exchangeLayers(a: LayerRow, b: LayerRow): RowChange[] {
  return [
    changeRow('layer', a, { ...a, role: b.role, position: b.position, keeps: b.keeps }),
    changeRow('layer', b, { ...b, role: a.role, position: a.position, keeps: a.keeps }),
  ];
}

/** Moves a layer up (1) or down (−1) past its neighbour; nothing at the end. */
export function moveLayer(document: CrossingDocument, layerId: string, by: 1 | -1): RowChange[] {
  const layers = layersInOrder(document);
  const at = layers.findIndex(({ id }) => id === layerId);
  const [layer, other] = [layers[at], layers[at + by]];
  if (!layer || !other) return [];
  return [
    changeRow('layer', layer, { ...layer, position: other.position }),
    changeRow('layer', other, { ...other, position: layer.position }),
  ];
}

/** Takes a layer away, with its keyed colour, its moves and its sound. It must have no outlines. */
export function removeLayer(document: CrossingDocument, layerId: string): RowChange[] {
  const { layers, chromas, moves, pieces } = document;
  const [layer, chroma] = [layers[layerId], chromas[layerId]];
  return [
    ...Object.values(layers)
      .filter(({ followsId }) => followsId === layerId)
      .map((follower) => changeRow('layer', follower, { ...follower, followsId: null })),
    ...Object.values(pieces)
      .filter(({ source, sourceId }) => source === 'layer' && sourceId === layerId)
      .flatMap(({ id }) => removePiece(document, id)),
    ...(chroma ? [changeRow('chroma', chroma, null)] : []),
    ...Object.values(moves)
      .filter(({ ownerId }) => ownerId === layerId)
      .map((move) => changeRow('move', move, null)),
    ...(layer ? [changeRow('layer', layer, null)] : []),
  ];
}

/** Puts a mark: a new one, or one that is there with other settings. */
export function putMark({ marks }: CrossingDocument, mark: MarkRow): RowChange {
  return changeRow('mark', marks[mark.id] ?? null, mark);
}

/** Marks the first and the last frame of the moving edge; marks that are there move. */
export function markEdge(
  document: Pick<CrossingDocument, 'marks'>,
  frames: Readonly<Record<'opens' | 'closes', number>>,
  newId: () => string,
): RowChange[] {
  return (['opens', 'closes'] as const).map((kind) => {
    const before = Object.values(document.marks).find((mark) => mark.kind === kind) ?? null;
    const name = before?.name ?? (kind === 'opens' ? 'Opens' : 'Closes');
    return changeRow('mark', before, { id: before?.id ?? newId(), kind, name, frame: frames[kind] });
  });
}

export function removeMark(mark: MarkRow): RowChange[] {
  return [changeRow('mark', mark, null)];
}

/** Keys a layer by a colour, or otherwise than before. */
export function setChroma({ chromas }: CrossingDocument, chroma: ChromaRow): RowChange[] {
  return [changeRow('chroma', chromas[chroma.id] ?? null, chroma)];
}

export function removeChroma(chroma: ChromaRow): RowChange[] {
  return [changeRow('chroma', chroma, null)];
}
