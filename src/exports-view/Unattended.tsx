'use client';

import { rateOf } from '@/core/time/rate';
import Box from '@mui/material/Box';
import { useEffect, useState } from 'react';
import {
  type ExportFormat,
  exportFormats,
  type ExportQuality,
  exportQualityNames,
  formatOf,
  needsFfmpeg,
  soundFor,
} from '@/core/formats/export-formats';
import { type ExportPart, exportParts, exportSize, stretchOf } from '@/core/formats/export-range';
import { exportTimecode } from '@/core/formats/export-timecode';
import { framesOfPart, partOfManyFrom } from '@/core/formats/part-of-many';
import { sourceTimecodeFrom } from '@/core/time/source-timecode';
import { canWrite } from '@/footage/video-writer';
import { call, sentenceOf } from '@/interface/api';
import { startWorker, told } from '@/interface/start-worker';
import { type LoudnessTarget, loudnessTargets } from '@/render/export-sound';
import type { ExportService } from '@/render/export.worker';
import type { Abilities, OpenedCrossing } from '@/wire/answers';

type State =
  | { state: 'opening' }
  /** `waits`: why it does not go on; null: it does. */
  | { state: 'writing'; written: number; of: number; waits: string | null }
  | { state: 'done'; id: string }
  /** `asked`: what was asked for cannot be; nothing was rendered. */
  | { state: 'failed'; message: string; asked: boolean };

/** What was asked for cannot be. */
class WrongQuestion extends Error {}

/**
 * Exports a crossing as its address asks, with nobody there: `npm run export` opens it and reads what it shows.
 */
export function Unattended() {
  const [state, setState] = useState<State>({ state: 'opening' });
  useEffect(() => {
    let now = { written: 0, of: 0, waits: null as string | null };
    const tell = (news: Partial<typeof now>) => {
      now = { ...now, ...news };
      setState({ state: 'writing', ...now });
    };
    run(
      new URLSearchParams(window.location.search),
      (written, of) => tell({ written, of }),
      (waits) => tell({ waits }),
    ).then(
      (id) => setState({ state: 'done', id }),
      (error: unknown) =>
        setState({ state: 'failed', message: sentenceOf(error), asked: error instanceof WrongQuestion }),
    );
  }, []);
  return (
    <Box component="main" sx={{ m: 4 }}>
      <output data-run={JSON.stringify(state)}>
        {state.state === 'opening' && 'Opening the crossing…'}
        {state.state === 'writing' && (state.waits ?? `Frame ${state.written} of ${state.of}`)}
        {state.state === 'done' && 'Exported.'}
        {state.state === 'failed' && state.message}
      </output>
    </Box>
  );
}

/** Has what is wrong with a question said as such. */
function asWrong<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    throw new WrongQuestion((error as Error).message);
  }
}

/** The frames of the part that is asked for; without one all of them. */
function partAsked(asked: string | null, format: ExportFormat, whole: { from: number; to: number }) {
  if (asked === null) return whole;
  if (formatOf(format).of === 'sound')
    throw new WrongQuestion('Sound alone is not written in parts: it takes seconds. Leave --part out.');
  return asWrong(() => framesOfPart(whole, partOfManyFrom(asked)));
}

/** Most frames beyond either end of a crossing. */
const mostHandles = 1000;

/** @returns the export's id. */
async function run(
  asked: URLSearchParams,
  onProgress: (written: number, of: number) => void,
  onWaiting: (waits: string | null) => void,
): Promise<string> {
  const format = asked.get('as') as ExportFormat;
  if (!(format in exportFormats)) throw new WrongQuestion(`There is no format “${format}”.`);
  const [{ document: opened, shots, revision }, { ffmpeg }] = await Promise.all([
    call<OpenedCrossing>(`/api/crossings/${asked.get('crossing') ?? ''}`),
    call<Abilities>('/api/abilities'),
  ]);
  const quality = (asked.get('quality') ?? 'fine') as ExportQuality;
  const part = (Number(asked.get('part') ?? 1) || 1) as ExportPart;
  if (!exportQualityNames.includes(quality) || !exportParts.includes(part))
    throw new WrongQuestion('Kiv does not offer this quality or size.');
  const table = Object.fromEntries(shots.map(({ shot }) => [shot.id, shot]));
  const stretch = stretchOf(opened, table, { of: asked.has('alone') ? 'traced shot' : 'played' }, 0);
  const { document, shotName } = stretch;
  const { length } = document.crossing;
  const { width, height } = exportSize(document.crossing, part);
  if (!(await canWrite(format, width, height, rateOf(document.crossing))))
    throw new Error(`This Chromium cannot write ${exportFormats[format].label} at ${width} × ${height}.`);
  if (needsFfmpeg(format) && !ffmpeg) throw new Error('This format needs ffmpeg, which is not installed.');
  const whole = {
    from: Number(asked.get('from') ?? stretch.from),
    to: Number(asked.get('to') ?? stretch.to),
  };
  const { from, to } = whole;
  const within = from >= -mostHandles && to < length + mostHandles && from < length && to >= 0;
  if (![from, to].every(Number.isInteger) || from > to || !within)
    throw new WrongQuestion(
      `Frames ${from} to ${to} cannot be written: there are ${length}, from 0 on, and handles of ${mostHandles} at most.`,
    );
  const heard = asked.get('sound') !== 'none' && Object.values(document.pieces).some(({ muted }) => !muted);
  const sound = soundFor(format, heard, ffmpeg);
  if (exportFormats[format].of === 'sound' && sound === 'none')
    throw new WrongQuestion('There is no sound in this crossing.');
  const own = partAsked(asked.get('piece'), format, whole);
  const rate = rateOf(document.crossing);
  const typed = asked.get('timecode');
  const timecode =
    typed === null
      ? exportTimecode({ document, from }, table)
      : typed === 'none'
        ? null
        : asWrong(() => sourceTimecodeFrom(typed, rate));
  const target = Number(asked.get('loudness'));
  const loudness: LoudnessTarget = loudnessTargets.find((each) => each === target) ?? null;
  const { service, failed, end } = startWorker<ExportService>(
    new Worker(new URL('../render/export.worker.ts', import.meta.url), { type: 'module' }),
  );
  try {
    const order = {
      document,
      media: shots,
      revision,
      format,
      quality,
      part,
      shotName,
      from: own.from,
      to: own.to,
      // The first part has all of the sound, and says the timecode.
      sound: own.from === from ? sound : ('none' as const),
      timecode: own.from === from ? timecode : null,
      heardTo: to,
      loudness,
    };
    const { id } = await Promise.race([
      service.run(
        order,
        told(() => {}),
        told(onProgress),
        told(onWaiting),
      ),
      failed,
    ]);
    return id;
  } finally {
    end();
  }
}
