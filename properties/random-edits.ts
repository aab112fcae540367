import { randomUUID } from 'node:crypto';
import {
  addPoint,
  deleteOutline,
  drawOutline,
  movedPoints,
  removePoints,
  removePose,
  setOutline,
  setPose,
} from '../src/core/actions/actions';
import { type CrossingDocument, plainPiece } from '../src/core/document/tables';
import { keyEdge, removeEdgeKey, setEdge } from '../src/core/actions/edge-actions';
import type { RowChange } from '../src/core/document/edit';
import { changeRate, changeSize } from '../src/core/actions/format-actions';
import { putMark, removeMark, setChroma, setCrossing, setLayer } from '../src/core/actions/layer-actions';
import { removeMoves, setMove } from '../src/core/actions/move-actions';
import {
  joinSeams,
  looseOutline,
  mirrorOutline,
  moveInOrder,
  placeOutline,
  reverseOutline,
  setCombine,
  splitOutline,
} from '../src/core/actions/outline-actions';
import { addPiece, removePiece, setPiece, shiftPiece, splitPiece } from '../src/core/actions/piece-actions';
import { numbersPerPoint as N } from '../src/core/model/choices';
import { strokeRow } from '../src/core/actions/subject-actions';

/** Edits by chance: what people do, in any order, on whatever is there. */

/** A number below `below`, whole and 0 or more. */
export type Chance = (below: number) => number;

let given = 0;
/** An id that no other row has: nothing hangs on what it is. */
const newId = () => `${(++given).toString(16).padStart(8, '0')}-0000-4000-8000-${randomUUID().slice(-12)}`;

const anyOf = <V>(values: readonly V[], chance: Chance): V | undefined => values[chance(values.length)];
const place = (chance: Chance) => chance(4000) / 3 - 300;

const edits: Record<string, (document: CrossingDocument, chance: Chance) => RowChange[]> = {
  draw(document, chance) {
    const layer = anyOf(Object.values(document.layers), chance)!;
    const count = 2 + chance(4);
    const kind = count > 2 && chance(2) ? ('loop' as const) : ('seam' as const);
    const points = Array.from({ length: count }, () => newId().slice(0, 8));
    const row = { id: newId(), layerId: layer.id, cutsLayerId: null, name: 'Edge', kind, points };
    const coordinates = Array.from({ length: count * N }, (_, i) => (i % N < 2 ? place(chance) : chance(9)));
    return drawOutline(document, { ...row, sweptSide: 'left' }, chance(60), coordinates);
  },
  pose(document, chance) {
    const poses = anyOf(
      Object.values(document.poses).filter(({ length }) => length > 0),
      chance,
    );
    const pose = poses && anyOf(poses, chance);
    if (!pose || !document.outlines[pose.outlineId]) return [];
    const moved = movedPoints(pose.coordinates, new Set([0]), chance(90) / 7, chance(90) / 3);
    return setPose(document, pose.outlineId, chance(60), moved);
  },
  outline(document, chance) {
    const outline = anyOf(Object.values(document.outlines), chance);
    if (!outline) return [];
    const { id, points, layerId } = outline;
    const other = anyOf(Object.values(document.outlines), chance)!;
    const frame = document.poses[id]?.[0]?.frame ?? 0;
    switch (chance(15)) {
      case 0:
        return removePose(document, id, frame);
      case 1:
        return addPoint(
          document,
          id,
          chance(points.length - 1),
          0.25 + chance(3) / 4 / 3,
          newId().slice(0, 8),
        );
      case 2:
        return removePoints(document, id, new Set([chance(points.length)]));
      case 3:
        return reverseOutline(document, id);
      case 4:
        return mirrorOutline(document, id, 1280);
      case 5:
        return splitOutline(
          document,
          id,
          new Set([1 + chance(3), 3 + chance(3)].slice(0, 1 + chance(2))),
          newId,
        );
      case 6:
        return joinSeams(document, id, other.id);
      case 7:
        return placeOutline(document, layerId, looseOutline(document, id)!, newId());
      case 8:
        return setCombine(document, id, (['add', 'take away', 'keep only'] as const)[chance(3)]);
      case 9:
        return moveInOrder(document, id, chance(2) ? 1 : -1);
      case 10:
        return deleteOutline(document, id);
      case 11:
        return keyEdge(document, id, chance(60), { featherInside: chance(40), spread: chance(9) - 4 });
      case 12:
        return removeEdgeKey(document, id, document.edges[id]?.[0]?.frame ?? 0);
      case 13:
        return setEdge(document, id, 0, { featherOutside: chance(30) });
      default:
        return setOutline(document, id, { name: `Edge ${chance(9)}`, hidden: chance(2) === 1 });
    }
  },
  stroke(document, chance) {
    const outline = anyOf(Object.values(document.outlines), chance);
    if (!outline) return [];
    const path = Array.from({ length: 2 * (1 + chance(6)) }, () => place(chance));
    const stroke = { mark: 'this' as const, radius: 3 + chance(20), path };
    return [strokeRow(document, outline.id, chance(60), stroke, newId())];
  },
  layer(document, chance) {
    const layer = anyOf(Object.values(document.layers), chance)!;
    const settings = [
      { offset: chance(90) - 20 },
      { speed: 25 + chance(300) },
      { reverse: !layer.reverse },
      { holdFrom: chance(2) ? chance(90) : null },
      { x: chance(200) - 100, y: chance(200) - 100 },
      { ramp: [0, 100, 1 + chance(50), chance(400)], rampAt: chance(40) },
      { visible: !layer.visible },
    ];
    return setLayer(document, layer.id, anyOf(settings, chance)!);
  },
  move(document, chance) {
    const layer = anyOf(Object.values(document.layers), chance)!;
    const rows = Object.values(document.moves);
    if (rows.length > 0 && chance(4) === 0) return removeMoves([anyOf(rows, chance)!]);
    const channel = (['place', 'size', 'turn', 'opacity', 'exposure'] as const)[chance(5)];
    return setMove(
      document,
      layer.id,
      channel,
      chance(60),
      1 + chance(5),
      channel === 'place' ? chance(5) : 0,
    );
  },
  sound(document, chance) {
    const piece = anyOf(Object.values(document.pieces), chance);
    if (!piece || chance(3) === 0) {
      const length = 1000 + chance(9000);
      const made = { ...plainPiece, source: 'made' as const, sourceId: null, name: 'Hum', length };
      const at = { track: chance(8), start: chance(50_000), inSample: 0, madeLength: length };
      return addPiece({ ...made, ...at, id: newId() });
    }
    switch (chance(4)) {
      case 0:
        return removePiece(document, piece.id);
      case 1:
        return splitPiece(document, piece.id, piece.start + chance(piece.length), newId(), piece.name);
      case 2:
        return shiftPiece(document, piece.id, chance(4000) - 2000, chance(3) - 1);
      default:
        return setPiece(document, piece.id, { level: chance(60) - 50, behind: chance(2) === 1 });
    }
  },
  crossing(document, chance) {
    const marks = Object.values(document.marks);
    const layer = anyOf(Object.values(document.layers), chance)!;
    const colour = {
      cb: chance(255),
      cr: chance(255),
      tolerance: 9,
      softness: 4,
      grow: 0,
      clean: 0,
      spill: 0,
    };
    switch (chance(6)) {
      case 0:
        return changeRate(document, ([24, 25, 30, 50] as const).map((num) => ({ num, den: 1 }))[chance(4)]);
      case 1:
        return changeSize(document, { width: 640 + 2 * chance(700), height: 360 + 2 * chance(400) });
      case 2:
        return setCrossing(document, { name: `Crossing ${chance(99)}`, length: 20 + chance(100) });
      case 3:
        return marks.length > 0 ? removeMark(anyOf(marks, chance)!) : [];
      case 4:
        return setChroma(document, { id: layer.id, ...colour });
      default:
        return [putMark(document, { id: newId(), frame: chance(60), kind: 'mark', name: 'Here' })];
    }
  },
};
const kinds = Object.keys(edits);

/** What an edit by chance changes; nothing where there is nothing that it could be done to. */
export function randomEdit(
  document: CrossingDocument,
  chance: Chance,
): { label: string; changes: RowChange[] } {
  const label = kinds[chance(kinds.length)];
  return { label, changes: edits[label](document, chance) };
}
