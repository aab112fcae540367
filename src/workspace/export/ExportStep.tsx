'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import NextLink from 'next/link';
import { useEffect, useState } from 'react';
import {
  type ExportFormat,
  exportFormatNames,
  exportFormats,
  isVideo,
  exportQualities,
  type ExportQuality,
  exportQualityNames,
  type ExportSoundCodec,
  needsFfmpeg,
  soundFor,
} from '@/core/formats/export-formats';
import { type ExportPart, exportParts, type ExportRange, exportSize } from '@/core/formats/export-range';
import { call } from '@/interface/api';
import type { LoudnessTarget } from '@/render/export-sound';
import type { Abilities } from '@/wire/answers';
import { SwitchField } from '../fields/SwitchField';
import { formatBytes } from '@/footage/refusal';
import { canWrite, expectedBytes, exportBitrate } from '@/footage/video-writer';
import { useDocument } from '../document/document-store';
import {
  cancelExport,
  leaveQueue,
  mostWaiting,
  startExport,
  useExport,
  useExportQueue,
} from './export-store';
import { RangeField, rangeHeld, stretchShown } from './RangeField';
import { PathsAndLists } from './PathsAndLists';
import { NumberField } from '../fields/NumberField';

const loudnesses: readonly LoudnessTarget[] = [null, -23, -14];
const loudnessNames: Record<string, string> = {
  null: 'As it is mixed',
  '-23': '−23 LUFS, for broadcast (EBU R 128)',
  '-14': '−14 LUFS, for the web',
};
const soundNames: Record<ExportSoundCodec, string> = {
  none: 'none',
  opus: 'Opus',
  aac: 'AAC',
  pcm: 'PCM',
};

const soundsAlone = (format: ExportFormat) => exportFormats[format].of === 'sound';

/** What has come of an export is seen, wherever the panel was. */
const intoView = (element: HTMLElement | null) => element?.scrollIntoView({ block: 'nearest' });

/** Writing the crossing to a video file. */
export function ExportStep() {
  const document = useDocument((state) => state.document!);
  const job = useExport();
  const failed = useExportQueue((state) => state.failed);
  const full = useExportQueue((state) => state.waiting.length >= mostWaiting);
  const [format, setFormat] = useState<ExportFormat>('webm');
  const [quality, setQuality] = useState<ExportQuality>('fine');
  const [part, setPart] = useState<ExportPart>(1);
  const [chosenRange, setRange] = useState<ExportRange>({ of: 'played' });
  const [handles, setHandles] = useState(0);
  const [writable, setWritable] = useState<ExportFormat[] | null>(null);
  const [soundWanted, setSoundWanted] = useState(true);
  const [loudness, setLoudness] = useState<LoudnessTarget>(null);
  const [ffmpeg, setFfmpeg] = useState(false);
  const shots = useDocument((state) => state.shots);
  const alone = !soundsAlone(format);
  const range = rangeHeld(document, shots, chosenRange, alone);
  const stretch = stretchShown(document, shots, range, handles);
  const shown = stretch.document.crossing;
  const { rateNum, rateDen } = shown;
  const { width, height } = exportSize(shown, part);
  useEffect(() => {
    // Where it is not known, what the browser writes itself is chosen.
    call<Abilities>('/api/abilities').then(
      (abilities) => setFfmpeg(abilities.ffmpeg),
      () => {},
    );
  }, []);
  useEffect(() => {
    void Promise.all(
      exportFormatNames.map((each) => canWrite(each, width, height, { num: rateNum, den: rateDen })),
    ).then((can) =>
      setWritable(exportFormatNames.filter((each, i) => can[i] && (ffmpeg || !needsFfmpeg(each)))),
    );
  }, [width, height, rateNum, rateDen, ffmpeg]);
  const heard = Object.values(stretch.document.pieces).some(({ muted }) => !muted);
  const sounds = soundFor(format, heard, ffmpeg);
  const sound = soundWanted && sounds !== 'none' ? sounds : soundsAlone(format) ? 'pcm' : 'none';
  const running = job.state === 'writing' || job.state === 'storing';
  const frames = stretch.to - stretch.from + 1;
  const seconds = (frames * rateDen) / rateNum;
  const rate = { num: rateNum, den: rateDen };
  const bytes = expectedBytes(format, { width, height, rate, frames, quality }, sound);

  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <TextField
        select
        label="Format"
        value={format}
        onChange={(event) => setFormat(event.target.value as ExportFormat)}
        fullWidth
      >
        {exportFormatNames.map((each) => (
          <MenuItem key={each} value={each} disabled={writable !== null && !writable.includes(each)}>
            {exportFormats[each].label}
            {writable !== null &&
              !writable.includes(each) &&
              (needsFfmpeg(each) ? ': needs ffmpeg' : ': not in this browser')}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ fontSize: 12, color: 'text.secondary', mt: -0.75 }}>{exportFormats[format].says}</Box>
      {alone && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
          <TextField
            select
            label="Size"
            value={part}
            onChange={({ target }) => setPart(Number(target.value) as ExportPart)}
            slotProps={{ select: { renderValue: (value) => partNames[value as ExportPart] } }}
          >
            {exportParts.map((each) => (
              <MenuItem key={each} value={each}>
                {partNames[each]} ({Object.values(exportSize(shown, each)).join(' × ')})
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Quality"
            value={quality}
            disabled={!isVideo(format)}
            onChange={({ target }) => setQuality(target.value as ExportQuality)}
            slotProps={{ select: { renderValue: (value) => qualityWord(value as ExportQuality) } }}
          >
            {exportQualityNames.map((each) => (
              <MenuItem key={each} value={each}>
                {exportQualities[each].label} ({megabits(exportBitrate(width, height, rate, each))})
              </MenuItem>
            ))}
          </TextField>
        </Box>
      )}
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: range.of === 'traced shot' ? 'minmax(0, 1fr)' : 'minmax(0, 1fr) 68px',
          gap: 0.75,
        }}
      >
        <RangeField document={document} shots={shots} alone={alone} range={range} onChange={setRange} />
        {range.of !== 'traced shot' && (
          <NumberField label="Handles" value={handles} low={0} high={1000} whole onChange={setHandles} />
        )}
      </Box>
      {sounds !== 'none' && (
        <>
          {!soundsAlone(format) && (
            <SwitchField
              label={`With sound (${soundNames[sounds]})`}
              title={
                exportFormats[format].codec === 'avc' && sounds === 'opus'
                  ? 'AAC needs ffmpeg on this machine; not every program plays Opus in MP4'
                  : undefined
              }
              on={soundWanted}
              onChange={setSoundWanted}
            />
          )}
          {sound !== 'none' && (
            <TextField
              select
              label="Loudness"
              value={String(loudness)}
              onChange={({ target }) =>
                setLoudness(loudnesses.find((each) => String(each) === target.value) ?? null)
              }
            >
              {loudnesses.map((each) => (
                <MenuItem key={String(each)} value={String(each)}>
                  {loudnessNames[String(each)]}
                </MenuItem>
              ))}
            </TextField>
          )}
        </>
      )}
      {soundsAlone(format) && !heard && (
        <Alert severity="info">There is no sound in this crossing yet: step Sound adds some.</Alert>
      )}
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {width} × {height}, {frames} frames, {seconds.toFixed(2)} s
        {bytes !== null && `, about ${formatBytes(bytes)}`}
      </Box>
      {running && (
        <Box sx={{ display: 'grid', gap: 1 }}>
          <LinearProgress variant="determinate" value={job.share * 100} aria-label="Progress of the export" />
          <Box sx={{ fontSize: 13 }} role="status">
            {job.waits
              ? `Waiting. ${job.waits}`
              : job.state === 'storing'
                ? 'Storing the file…'
                : job.of === 0
                  ? 'Beginning…'
                  : `Frame ${job.written} of ${job.of}${job.secondsLeft === null ? '' : `, ${job.secondsLeft} s left`}`}
          </Box>
          <Button variant="outlined" onClick={cancelExport}>
            Cancel
          </Button>
        </Box>
      )}
      <Waiting />
      <Button
        variant={running ? 'outlined' : 'contained'}
        disabled={
          (writable !== null && !writable.includes(format)) || (soundsAlone(format) && !heard) || full
        }
        onClick={() => void startExport({ format, quality, part, range, sound, loudness }, handles)}
      >
        {running ? 'Export after that' : 'Export'}
      </Button>
      {failed.map((says, k) => (
        <Alert key={k} severity="error" ref={intoView}>
          {says}
        </Alert>
      ))}
      {job.state === 'done' && (
        <Alert
          severity="success"
          ref={intoView}
          sx={{ alignItems: 'center' }}
          data-spent={JSON.stringify(job.spent)}
        >
          Exported. <Link href={`/api/exports/${job.id}/file`}>Download</Link> or see all{' '}
          <Link component={NextLink} href="/exports">
            exports
          </Link>
          .
        </Alert>
      )}
      {job.state === 'cancelled' && <Alert severity="info">Cancelled. Nothing was kept.</Alert>}
      {job.state === 'failed' && (
        <Alert severity="error" ref={intoView}>
          {job.message}
        </Alert>
      )}
      <PathsAndLists />
    </Box>
  );
}

const partNames = { 1: 'Full', 2: 'Half', 4: 'Quarter' } as const;

/** In a word, where the field is narrow. */
const qualityWord = (quality: ExportQuality) => exportQualities[quality].label.split(':')[0];

const megabits = (bitrate: number) => `${(bitrate / 1e6).toFixed(bitrate < 9.5e6 ? 1 : 0)} Mbit/s`;

/** Exports that come after the one that is being written. */
function Waiting() {
  const waiting = useExportQueue((state) => state.waiting);
  if (waiting.length === 0) return null;
  return (
    <Box component="ol" aria-label="Exports that wait" sx={{ m: 0, pl: 2.5, fontSize: 13 }}>
      {waiting.map(({ id, choice, handles }) => (
        <li key={id}>
          {exportFormats[choice.format].label}
          {choice.part > 1 && (choice.part === 2 ? ', half size' : ', quarter size')}
          {choice.range.of === 'traced shot' && ', the shot alone'}
          {handles > 0 && choice.range.of !== 'traced shot' && `, handles of ${handles} frames`}{' '}
          <Button size="small" onClick={() => leaveQueue(id)}>
            Take out
          </Button>
        </li>
      ))}
    </Box>
  );
}
