import type { Rate } from '../model/time';
import { type CrossingDocument, moveId, type MoveRow } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import { limits } from '../model/limits';
import { withinBounds } from '../document/keys';

/** The size that a shot proposes for a result, px: its own, both sides even, as video in 4:2:0 has them. */
export function proposedSize(shot: { width: number; height: number }): { width: number; height: number } {
  const even = (px: number) => Math.max(2, px - (px % 2));
  return { width: even(shot.width), height: even(shot.height) };
}

/** What a crossing's rate and size are changed by; each returns the row changes of one edit. */

/**
 * Gives a crossing another rate. What counts its frames (length, in and out, marks, keys, ramps) is brought to the same
 * moments; what counts a shot's frames, as outlines do, and sound stay as they are. Keys of a channel stay apart as long as
 * none is moved by more than a frame for it; else the later one counts.
 */
export function changeRate(document: CrossingDocument, rate: Rate): RowChange[] {
  const { crossing, layers, marks, moves } = document;
  const before = { num: crossing.rateNum, den: crossing.rateDen };
  if (before.num * rate.den === rate.num * before.den) return [];
  const by = (rate.num * before.den) / (rate.den * before.num);
  const moment = (frame: number) => Math.min(limits.frames, Math.max(0, Math.round(frame * by)));
  const length = Math.max(1, moment(crossing.length));
  const last = length - 1;
  const within = (frame: number) => Math.min(last, moment(frame));
  const outFrame = crossing.outFrame === null ? null : Math.min(last, moment(crossing.outFrame + 1) - 1);
  const inFrame = Math.min(within(crossing.inFrame), outFrame ?? last);
  return [
    changeRow('crossing', crossing, {
      ...crossing,
      ...{ rateNum: rate.num, rateDen: rate.den, length, inFrame },
      outFrame: outFrame === null ? null : Math.max(0, outFrame),
    }),
    ...Object.values(layers)
      .filter(({ ramp, rampAt }) => ramp.length > 0 || rampAt !== 0)
      .map((layer) =>
        changeRow('layer', layer, {
          ...layer,
          ramp: rampAtRate(layer.ramp, moment),
          rampAt: moment(layer.rampAt),
          rampRound: Math.min(200, Math.round(layer.rampRound * by)),
        }),
      ),
    ...Object.values(marks).map((mark) => changeRow('mark', mark, { ...mark, frame: within(mark.frame) })),
    ...movesAtRate(Object.values(moves), by, moment),
  ];
}

/** A ramp's keys on other frames; they stay apart. */
function rampAtRate(ramp: readonly number[], moment: (frame: number) => number): number[] {
  const out: number[] = [];
  for (let i = 0; i < ramp.length; i += 2) {
    const frame = moment(ramp[i]);
    const least = out.length === 0 ? 0 : out[out.length - 2] + 1;
    out.push(Math.max(frame, least), ramp[i + 1]);
  }
  return out;
}

function movesAtRate(rows: readonly MoveRow[], by: number, moment: (frame: number) => number): RowChange[] {
  const after = new Map<string, MoveRow>();
  /** The last frame that has a key, by owner and channel. */
  const taken = new Map<string, number>();
  for (const row of [...rows].sort((a, b) => a.frame - b.frame)) {
    const own = `${row.ownerId} ${row.channel}`;
    const free = (taken.get(own) ?? -1) + 1;
    const frame = free - row.frame * by > 1 ? moment(row.frame) : Math.max(moment(row.frame), free);
    taken.set(own, Math.max(free - 1, frame));
    const id = moveId(row.ownerId, row.channel, frame);
    after.set(id, { ...row, id, frame });
  }
  const before = new Map(rows.map((row) => [row.id, row]));
  return [...new Set([...before.keys(), ...after.keys()])].flatMap((id) => {
    const [was, is] = [before.get(id) ?? null, after.get(id) ?? null];
    return was === is ? [] : [changeRow('move', was, is)];
  });
}

/**
 * Gives a crossing another size. Layers that fill the frame, or lie whole in it, go on doing so; shifts of layers and of the
 * whole picture, and their keys, grow with it.
 *
 * @param size px, even.
 */
export function changeSize(
  document: CrossingDocument,
  { width, height }: { width: number; height: number },
): RowChange[] {
  const { crossing, layers, moves } = document;
  if (crossing.width === width && crossing.height === height) return [];
  const [across, down] = [width / crossing.width, height / crossing.height];
  const shifted = (value: number, by: number) => Math.min(20_000, Math.max(-20_000, value * by));
  return [
    changeRow('crossing', crossing, { ...crossing, width, height }),
    ...Object.values(layers)
      .filter(({ x, y }) => x !== 0 || y !== 0)
      .map((layer) =>
        changeRow('layer', layer, { ...layer, x: shifted(layer.x, across), y: shifted(layer.y, down) }),
      ),
    ...Object.values(moves).flatMap((row) => {
      const after = movedTo(row, across, down);
      return after ? [changeRow('move', row, after)] : [];
    }),
  ];
}

/** A key whose numbers are px of the crossing, in a frame of another size; null where none are. */
function movedTo(row: MoveRow, across: number, down: number): MoveRow | null {
  const { channel, value, second, third } = row;
  switch (channel) {
    case 'place':
      return {
        ...row,
        value: withinBounds(channel, value * across),
        second: withinBounds(channel, second * down, 1),
      };
    case 'blur-along':
      return { ...row, value: withinBounds(channel, value * Math.sqrt(across * down)) };
    case 'blur-towards':
    case 'blur-about':
      return {
        ...row,
        second: withinBounds(channel, second * across, 1),
        third: withinBounds(channel, third * down, 2),
      };
    default:
      return null;
  }
}
