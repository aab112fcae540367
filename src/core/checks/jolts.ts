import { movedAt } from '../compose/moves';
import { layersInOrder, layerTitle } from '../document/document';
import type { CrossingDocument, MoveRow } from '../document/tables';
import type { RowChange } from '../document/edit';
import { keysOf } from '../document/keys';
import { setMovesOnward } from '../actions/move-actions';
import type { Shots } from '../compose/source-frames';
import type { Finding } from './findings';

/** Jumps of speed at keys between two ways of which one was meant to be smooth. */

/** Part of a frame over which a speed is read. */
const reach = 0.05;
/** Least jump of speed a frame that is seen (common practice, no source): px, percent of size, degrees. */
const seen = { place: 2, size: 0.5, turn: 0.3 } as const;
/** Least jump, as a share of the greater of the two speeds. */
const leastShare = 0.3;
const units = { place: 'px', size: '%', turn: '°' } as const;

interface Jolt {
  frame: number;
  channel: keyof typeof seen;
  /** Speed before the key and after it, a frame. */
  before: number;
  after: number;
  /** The keys whose ways meet there. */
  keys: readonly [MoveRow, MoveRow];
}

function joltsOf(document: CrossingDocument, ownerId: string): Jolt[] {
  const own = keysOf(document, ownerId);
  return (Object.keys(seen) as Jolt['channel'][]).flatMap((channel) => {
    const keys = own[channel] ?? [];
    const at = (frame: number) => {
      const { x, y, size, turn } = movedAt(document, ownerId, frame);
      // Size runs in the logarithm; percent of it a frame.
      return channel === 'place' ? [x, y] : channel === 'size' ? [100 * Math.log(size)] : [turn];
    };
    return keys.slice(1, -1).flatMap((key, k): Jolt[] => {
      const into = keys[k];
      const ways = [into.onward, key.onward];
      if (ways.includes('hold') || ways.every((way) => way === 'linear')) return [];
      const [from, here, to] = [key.frame - reach, key.frame, key.frame + reach].map(at);
      const speed = (a: number[], b: number[]) => a.map((value, i) => (b[i] - value) / reach);
      const [before, after] = [speed(from, here), speed(here, to)];
      const jump = Math.hypot(...before.map((value, i) => after[i] - value));
      const [slow, fast] = [Math.hypot(...before), Math.hypot(...after)];
      if (jump < seen[channel] || jump < leastShare * Math.max(slow, fast)) return [];
      return [{ frame: key.frame, channel, before: slow, after: fast, keys: [into.row, key.row] }];
    });
  });
}

const ownersOf = (document: CrossingDocument) => [
  ...layersInOrder(document).filter(({ visible }) => visible),
  document.crossing,
];

/** Where a move that was meant to be smooth or eased changes its speed at once. */
export function jolts(document: CrossingDocument, shots: Shots, first: number, last: number): Finding[] {
  return ownersOf(document).flatMap((owner) => {
    const name = 'shotId' in owner ? layerTitle(owner, shots[owner.shotId]) : 'the whole picture';
    return joltsOf(document, owner.id)
      .filter(({ frame }) => frame > first && frame < last)
      .map(({ frame, channel, before, after }): Finding => {
        const said = [before, after].map((value) => `${Math.round(10 * value) / 10} ${units[channel]}`);
        return {
          kind: 'jolts',
          outlineId: null,
          from: frame,
          to: frame,
          worst: frame,
          says: `Frame ${frame}: the ${channel} of ${name} goes from ${said[0]} to ${said[1]} a frame at once, though it was meant to run smoothly.`,
          place: null,
          fix: 'smooth jolt',
        };
      });
  });
}

/** Lets both ways run smoothly that meet in a jolt on the finding's frame. */
export function smoothJolts(document: CrossingDocument, { worst }: Finding): RowChange[] {
  const rows = new Map(
    ownersOf(document)
      .flatMap(({ id }) => joltsOf(document, id))
      .filter(({ frame }) => frame === worst)
      .flatMap(({ keys }) => keys.map((row) => [row.id, row] as const)),
  );
  return setMovesOnward([...rows.values()], 'smooth');
}
