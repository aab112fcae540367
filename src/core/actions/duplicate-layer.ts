import { layersInOrder, rowsOf } from '../document/document';
import { tracedLayer } from '../document/plans';
import { withIdsRenamed } from '../document/references';
import { type CrossingDocument, type LayerRow, plainLayer } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import { nextPosition } from './actions';
import { plainTime } from '../model/time';

/** What of a layer its duplicate takes along. */
export interface TakenAlong {
  /** Slip, speed, ramp, freeze and trim. */
  time: boolean;
  /** Fit, place, scale, turn, steadying and lens. */
  place: boolean;
  keys: boolean;
  /** Outlines with their poses, edges and strokes, the keyed colour and the matte. */
  outlines: boolean;
}

const timeFields = [
  ...(Object.keys(plainTime) as (keyof LayerRow)[]),
  ...(['ramp', 'rampAt', 'rampRound', 'betweens', 'trimIn', 'trimOut'] as const),
];
const placeFields = ['fit', 'flip', 'x', 'y', 'scale', 'turn', 'steady', 'lens'] as const;
const matteFields = ['matteId', 'matteFrom', 'matteTurned', 'keeps'] as const;

/**
 * One more layer of a layer's shot, right above or beneath it.
 *
 * @param name its own. @param still whether the shot is one picture, which is held for good.
 */
export function duplicateLayer(
  document: CrossingDocument,
  layerId: string,
  { above, along, name, still }: { above: boolean; along: TakenAlong; name: string; still: boolean },
  newId: () => string,
): { id: string; changes: RowChange[] } {
  const layer = document.layers[layerId];
  const ids = new Map([[layerId, newId()]]);
  const id = ids.get(layerId)!;
  const plainly = (fields: readonly (keyof LayerRow)[]) =>
    Object.fromEntries(fields.map((field) => [field, (plainLayer as Partial<LayerRow>)[field]]));
  const order = layersInOrder(document);
  const place = order.findIndex((each) => each.id === layerId) + (above ? 1 : 0);
  const copy: LayerRow = {
    ...layer,
    ...(along.time ? {} : { ...plainly(timeFields), holdFrom: still ? 0 : null }),
    ...(along.place ? {} : plainly(placeFields)),
    ...(along.outlines ? {} : plainly(matteFields)),
    ...(along.keys ? {} : { followsId: null }),
    ...{ id, name, traced: false, position: place },
  };
  const changes: RowChange[] = [changeRow('layer', null, copy)];
  // Those that lie above go up by one; a copy with outlines of its own does not take tracing over.
  const stays = tracedLayer(document);
  order.forEach((each, k) => {
    const position = k < place ? k : k + 1;
    const traced = each.traced || (along.outlines && each.id === stays?.id);
    if (each.position !== position || each.traced !== traced)
      changes.push(changeRow('layer', each, { ...each, position, traced }));
  });
  const rows = rowsOf(document);
  const outlines = along.outlines ? rows.outline.filter((row) => row.layerId === layerId) : [];
  for (const { id: own } of outlines) ids.set(own, newId());
  const renamed = (own: string) => ids.get(own) ?? own;
  const isTaken = ({ outlineId }: { outlineId: string }) => ids.has(outlineId);
  const next = nextPosition(document);
  outlines.forEach((row, k) =>
    changes.push(
      changeRow('outline', null, { ...withIdsRenamed('outline', row, renamed), position: next + k }),
    ),
  );
  for (const row of rows.pose.filter(isTaken))
    changes.push(changeRow('pose', null, withIdsRenamed('pose', row, renamed)));
  for (const row of rows.edge.filter(isTaken))
    changes.push(changeRow('edge', null, withIdsRenamed('edge', row, renamed)));
  for (const row of rows.stroke.filter(isTaken))
    changes.push(changeRow('stroke', null, { ...withIdsRenamed('stroke', row, renamed), id: newId() }));
  if (along.outlines)
    for (const row of rows.chroma.filter((chroma) => chroma.id === layerId))
      changes.push(changeRow('chroma', null, { ...row, id }));
  for (const row of rows.move)
    if (row.ownerId === layerId ? along.keys : ids.has(row.ownerId))
      changes.push(changeRow('move', null, withIdsRenamed('move', row, renamed)));
  return { id, changes };
}
