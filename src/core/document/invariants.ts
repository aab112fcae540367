import { isSoundRamp } from '../time/ramp';
import { type Channel, channelNumbers } from '../model/channels';
import { numbersPerPoint } from '../model/choices';
import { mostSamples } from '../model/limits';
import { rowsOf, tableNames } from './document';
import { changeRow, type RowChange } from './edit';
import { hasChannel, isSoundMove } from './keys';
import { namedBy, tablesNaming } from './references';
import { type CrossingDocument, type EdgeSettings, type RowTypes, type Table, tables } from './tables';

/**
 * What a document must hold whatever the edit: rows name what is there, no outline is a part of itself, ids that are
 * made from other fields fit them, poses fit their outline, lists ascend. The page asks before it sends, and the server
 * before it writes.
 */

/** After the edit the document would not hold together; the message is a sentence for the person. */
export class Inconsistent extends RangeError {}

/**
 * Why a document does not hold together after some changes; null where it does. Only the server knows whether its shots
 * and sounds are there.
 *
 * @param document after the changes, and consistent before them: only what was touched is looked at.
 */
export function inconsistencyOf(document: CrossingDocument, changes: readonly RowChange[]): string | null {
  for (const change of changes) {
    const why = change.after ? wrongRow(document, change) : stillNamed(document, change);
    if (why !== null) return why;
  }
  return misshapen(document, changes);
}

/** The same of all that a document holds. */
export function inconsistencyOfWhole(document: CrossingDocument): string | null {
  const rows = rowsOf(document);
  const all = tableNames.flatMap((table) =>
    (rows[table] as readonly RowTypes[Table][]).map((row) => changeRow(table, null, row as never)),
  );
  return inconsistencyOf(document, all);
}

const capital = (text: string) => text[0].toUpperCase() + text.slice(1);
const bare = (target: string) => tables[target as Table].called.replace(/^an? /, '');
const isTable = (target: string): target is Table => target in tables;

/** The row of a table that is known by an id of its own, or by what it is of. */
function rowById(document: CrossingDocument, table: Table, id: string): object | undefined {
  const { collection, shape } = tables[table];
  const held = document[collection];
  if (shape === 'one') return (held as { id: string }).id === id ? held : undefined;
  return (held as Record<string, object>)[id];
}

function wrongRow(document: CrossingDocument, { table, id, after }: RowChange): string | null {
  const { derivedId, called } = tables[table];
  if (table === 'crossing' && id !== document.crossing.id) return 'The change is of another crossing.';
  if (derivedId && derivedId(after as never) !== id)
    return `${capital(called)} has an id that is not made from what it is of.`;
  for (const { id: named, targets, mayDangle } of namedBy(table, after as never)) {
    const within = targets.filter(isTable);
    // Shots and sounds are files.
    if (mayDangle || within.length < targets.length) continue;
    if (!within.some((target) => rowById(document, target, named)))
      return within.some((target) => target === table)
        ? `${capital(called)} names another that is not there.`
        : `${capital(called)} needs its ${within.map(bare).join(' or ')}.`;
  }
  return ownRules[table]?.(after as never, document) ?? null;
}

/** What must hold of a table's row beside its fields' bounds and what it names. */
const ownRules: { [T in Table]?: (row: RowTypes[T], document: CrossingDocument) => string | null } = {
  layer: (layer, document) =>
    !isSoundRamp(layer.ramp)
      ? 'A ramp’s keys are whole frames that ascend, with percents from −1000 to 1000.'
      : leadsToItself(document.layers, layer, 'followsId')
        ? 'A layer cannot follow one that follows it.'
        : null,
  outline: (outline, document) =>
    outline.hinge !== null && !outline.points.includes(outline.hinge)
      ? 'A leaf hangs by a side that begins at one of its points.'
      : leadsToItself(document.outlines, outline, 'subjectId')
        ? 'An outline cannot be a part of itself.'
        : wrongMovesOf(document, outline.id),
  move: (move, document) =>
    !hasChannel(document, move)
      ? `There is nothing here that can have a key of its ${move.channel}.`
      : !isSoundMove(move)
        ? rangeOf(move.channel)
        : null,
  piece: ({ source, sourceId, inSample, length, fadeIn, fadeOut }, { layers }) =>
    (source === 'made') !== (sourceId === null)
      ? 'A piece of sound names what it comes from, or is made.'
      : source === 'layer' && !layers[sourceId!]
        ? 'A layer’s sound needs its layer.'
        : Math.max(fadeIn, fadeOut) > length || inSample + length > mostSamples
          ? 'A piece’s fades lie within it.'
          : null,
};

/** Whether the way from a row to the one that it names, and on from there, comes back to where it has been. */
function leadsToItself<F extends string, R extends { id: string } & Record<F, string | null>>(
  rows: Readonly<Record<string, R>>,
  start: R,
  field: F,
): boolean {
  const way = new Set<string>();
  for (let at: R | undefined = start; at; at = rows[at[field] ?? '']) {
    if (way.has(at.id)) return true;
    way.add(at.id);
  }
  return false;
}

/** Keys that an outline can no longer have, as when a leaf became a seam. */
function wrongMovesOf(document: CrossingDocument, ownerId: string): string | null {
  const wrong = Object.values(document.moves).find(
    (move) => move.ownerId === ownerId && !hasChannel(document, move),
  );
  return wrong ? `There is nothing here that can have a key of its ${wrong.channel}.` : null;
}

/** Rows that name one that was taken away. */
function stillNamed(document: CrossingDocument, { table, before }: RowChange): string | null {
  if (table === 'crossing') return 'A crossing is not deleted by an edit.';
  for (const other of tablesNaming(table)) {
    const { collection, shape, called } = tables[other];
    const held = document[collection];
    const rows = shape === 'one' ? [held] : Object.values(held).flat();
    // A sound that comes from a layer goes with it, though its source may be a file that is gone.
    const names = (row: object) =>
      namedBy(other, row as never).some(
        (named) =>
          named.id === before!.id && (!named.mayDangle || (row as { source?: string }).source === table),
      );
    if (rows.some(names)) return `${capital(called)} needs its ${bare(table)}.`;
  }
  return null;
}

/** Poses and edge keys of the outlines that were touched. */
function misshapen(document: CrossingDocument, changes: readonly RowChange[]): string | null {
  const touched = new Set<string>();
  const reshaped = new Set<string>();
  for (const change of changes) {
    if (change.table === 'outline') reshaped.add(change.id);
    if (change.table === 'outline') touched.add(change.id);
    if (change.table === 'pose' || change.table === 'edge')
      touched.add((change.after ?? change.before)!.outlineId);
  }
  for (const id of touched) {
    const outline = document.outlines[id];
    if (!outline) continue;
    // Where the outline stays as it is, only what changes has to fit it.
    const keysOf = <T extends 'pose' | 'edge'>(table: T, all: readonly RowTypes[T][]) =>
      reshaped.has(id)
        ? all
        : changes.flatMap((change) =>
            change.table === table && change.after && (change.after as { outlineId: string }).outlineId === id
              ? [change.after as RowTypes[T]]
              : [],
          );
    const poses = keysOf('pose', document.poses[id] ?? []);
    const edges = keysOf('edge', document.edges[id] ?? []);
    const count = outline.points.length;
    if (!poses.every(({ coordinates }) => coordinates.length === count * numbersPerPoint))
      return 'Every pose of an outline has the same points.';
    const widths: EdgeSettings[] = [outline, ...edges];
    if (!widths.every(({ factors }) => factors.length === 0 || factors.length === count))
      return 'An edge has a factor for each point of its outline, or none.';
    if (![document.poses[id] ?? [], document.edges[id] ?? []].every(ascends))
      return 'An outline has one pose and one edge key on a frame, in their order.';
  }
  return null;
}

function ascends(keys: readonly { frame: number }[]): boolean {
  return keys.every(({ frame }, k) => k === 0 || keys[k - 1].frame < frame);
}

function rangeOf(channel: Channel): string {
  const ranges = channelNumbers[channel].map(({ low, high }) => `${low} to ${high}`);
  return `A key of the ${channel} is out of range: ${ranges.join(', ')}.`;
}
