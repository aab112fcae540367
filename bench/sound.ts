import { spawnSync } from 'node:child_process';
import { documentOf } from '../src/core/document/document';
import { type PieceRow, plainCrossing, plainLayer, plainPiece } from '../src/core/document/tables';
import { opennessOf } from '../src/core/sound/behind';
import { Mixer, type ReadSource } from '../src/core/sound/mixer';
import { seeded } from '../src/core/random';
import { silence } from '../src/core/sound/stereo';
import { mixRate } from '../src/core/model/limits';
import { voicesOf } from '../src/core/sound/voice';
import type { Figure } from './figure';
import { filmedWhilePlaying } from './flashes';

/** Mixing speed against ffmpeg with as many inputs and filters, and how far picture and sound part while playing. */

const minutes = 10;
/** Minutes that are played; `KIV_BENCH_MINUTES` names others. */
const played = Number(process.env.KIV_BENCH_MINUTES ?? 1);

export async function benchSound(): Promise<Figure[]> {
  const [ours, theirs] = [await mixSeconds(), ffmpegSeconds()];
  const { apart, changes } = await filmedWhilePlaying(played);
  const off = apart.map(Math.abs).sort((a, b) => a - b);
  return [
    {
      name: `an hour of four pieces mixed, from ${minutes} min`,
      value: (ours * 60) / minutes,
      unit: 's',
      reference: { name: 'ffmpeg', value: (theirs * 60) / minutes },
      atMost: 3,
    },
    {
      name: `flash from beep, ${played} min looped, 95 % of ${off.length}`,
      value: off[Math.floor(0.95 * off.length)],
      unit: 'ms',
      atMost: 20,
    },
    { name: 'half of them', value: off[off.length >> 1], unit: 'ms' },
    { name: 'the farthest', value: off[off.length - 1], unit: 'ms' },
    {
      name: `a change while playing is heard, the slowest of ${changes.length}`,
      value: Math.max(...changes),
      unit: 'ms',
      atMost: 100,
    },
  ];
}

/** s for the mix: one piece plain, one behind the edge, one that goes out, one panned, all through the limiter. */
async function mixSeconds(): Promise<number> {
  const count = minutes * 60 * mixRate;
  const frames = minutes * 60 * 25;
  const piece = (id: string, rest: Partial<PieceRow>): PieceRow => ({
    ...plainPiece,
    ...{ id, name: id, track: 0, source: 'file', sourceId: id, start: 0, inSample: 0, length: count },
    level: -12,
    ...rest,
  });
  const document = documentOf({
    crossing: [
      {
        ...plainCrossing,
        ...{ id: 'c', name: 'C', plan: 'opening', width: 64, height: 36, length: frames },
        ...{ rateNum: 25, rateDen: 1 },
      },
    ],
    layer: [{ ...plainLayer, id: 'l', role: 'outgoing', shotId: 's', position: 0 }],
    piece: [
      piece('a', {}),
      piece('b', { behind: true, ring: 40 }),
      piece('c', { crossfade: 'goes out' }),
      piece('d', { pan: -60 }),
    ],
  });
  const random = seeded(1);
  const noise = silence(mixRate * 2);
  for (const channel of noise) for (let i = 0; i < channel.length; i++) channel[i] = 0.6 * random() - 0.3;
  const read: ReadSource = (_source, from, length) => {
    const at = ((from % mixRate) + mixRate) % mixRate;
    return Promise.resolve([noise[0].slice(at, at + length), noise[1].slice(at, at + length)]);
  };
  const coverage = Float64Array.from({ length: frames }, (_, n) => (1 + Math.sin(n / 40)) / 2);
  const scene = { document, shots: {}, openness: opennessOf(coverage, { num: 25, den: 1 }) };
  const start = performance.now();
  const mixer = new Mixer(voicesOf(scene), read, 0);
  for (let at = 0; at < count; at += mixRate / 2) await mixer.next(mixRate / 2);
  return (performance.now() - start) / 1000;
}

/** s that ffmpeg takes for four noises, two of them filtered, mixed and limited. */
function ffmpegSeconds(): number {
  const noise = `anoisesrc=r=${mixRate}:d=${minutes * 60}:a=0.3`;
  const inputs = Array.from({ length: 4 }, () => ['-f', 'lavfi', '-i', noise]).flat();
  const graph =
    '[0]aformat=channel_layouts=stereo[a];[1]aformat=channel_layouts=stereo,lowpass=f=350,equalizer=f=190:width_type=q:w=4:g=5[b];' +
    `[2]aformat=channel_layouts=stereo,afade=t=out:d=${minutes * 60}[c];[3]aformat=channel_layouts=stereo,stereotools=balance_in=-0.6[d];` +
    '[a][b][c][d]amix=inputs=4,alimiter=limit=0.88';
  const start = performance.now();
  const ran = spawnSync('ffmpeg', [
    '-v',
    'error',
    '-nostdin',
    ...inputs,
    '-filter_complex',
    graph,
    '-f',
    'null',
    '-',
  ]);
  if (ran.status !== 0) throw new Error(ran.stderr.toString());
  return (performance.now() - start) / 1000;
}
