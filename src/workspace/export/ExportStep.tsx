'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import LinearProgress from '@mui/material/LinearProgress';
import ListSubheader from '@mui/material/ListSubheader';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import {
  type ExportFormat,
  type ExportOf,
  exportFormatNames,
  exportFormats,
  hasQuality,
  exportQualities,
  type ExportQuality,
  exportQualityNames,
  type ExportSoundCodec,
  needsFfmpeg,
  saysTimecode,
  soundFor,
} from '@/core/formats/export-formats';
import { type ExportPart, exportParts, type ExportRange, exportSize } from '@/core/formats/export-range';
import { exportTimecode } from '@/core/formats/export-timecode';
import { call } from '@/interface/api';
import { PageLink } from '@/interface/PageLink';
import { type LoudnessTarget, loudnessTargets } from '@/render/export-sound';
import type { Abilities } from '@/wire/answers';
import { SwitchField } from '../fields/SwitchField';
import { formatBytes } from '@/footage/refusal';
import { canWrite, expectedBytes, exportBitrate } from '@/footage/video-writer';
import type { Size } from '@/core/compose/sampling';
import type { Rate } from '@/core/model/time';
import { rateOf } from '@/core/time/rate';
import { useDocument } from '../document/document-store';
import {
  cancelExport,
  type ExportJob,
  leaveQueue,
  mostWaiting,
  startExport,
  useExport,
  useExportQueue,
} from './export-store';
import { RangeField, rangeHeld, stretchShown } from './RangeField';
import { PathsAndLists } from './PathsAndLists';
import { TimecodeField, wrongTimecode } from './TimecodeField';
import { NumberField } from '../fields/NumberField';

const loudnesses: readonly LoudnessTarget[] = [null, ...loudnessTargets];
const loudnessNames: Record<string, string> = {
  null: 'As it is mixed',
  '-24': '−24 LUFS, for broadcast (ATSC A/85)',
  '-23': '−23 LUFS, for broadcast (EBU R 128)',
  '-16': '−16 LUFS, for podcasts and the web',
  '-14': '−14 LUFS, for the web',
};
const soundNames: Record<ExportSoundCodec, string> = {
  none: 'none',
  opus: 'Opus',
  aac: 'AAC',
  pcm: 'PCM',
};

/** What formats are grouped under. */
const kindNames: Record<ExportOf, string> = {
  result: 'The finished crossing',
  'cut-out': 'The traced shot cut out',
  matte: 'The matte',
  sound: 'Sound',
};

const soundsAlone = (format: ExportFormat) => exportFormats[format].of === 'sound';

/** What has come of an export is seen, wherever the panel was. */
const intoView = (element: HTMLElement | null) => element?.scrollIntoView({ block: 'nearest' });

/** What a person has chosen, and what follows from it. */
function useExportChoice() {
  const document = useDocument((state) => state.document!);
  const shots = useDocument((state) => state.shots);
  const [format, setFormat] = useState<ExportFormat>('webm');
  const [quality, setQuality] = useState<ExportQuality>('fine');
  const [part, setPart] = useState<ExportPart>(1);
  const [chosenRange, setRange] = useState<ExportRange>({ of: 'played' });
  const [handles, setHandles] = useState(0);
  const [soundWanted, setSoundWanted] = useState(true);
  const [loudness, setLoudness] = useState<LoudnessTarget>(null);
  const [timecode, setTimecode] = useState<string | null>(null);
  const ffmpeg = useFfmpeg();
  const pictured = !soundsAlone(format);
  const range = rangeHeld(document, shots, chosenRange, pictured);
  const stretch = stretchShown(document, shots, range, handles);
  const crossing = stretch.document.crossing;
  const size = exportSize(crossing, part);
  const rate = rateOf(crossing);
  const heard = Object.values(stretch.document.pieces).some(({ muted }) => !muted);
  const carried = soundFor(format, heard, ffmpeg);
  const ownTimecode = exportTimecode(stretch, Object.fromEntries(shots.map(({ shot }) => [shot.id, shot])));
  return {
    ...{ document, shots, crossing, size, rate, pictured, heard, carried },
    ...{ format, setFormat, quality, setQuality, part, setPart, range, setRange, handles, setHandles },
    ...{ soundWanted, setSoundWanted, loudness, setLoudness, timecode, setTimecode, ownTimecode },
    wrongTimecode: timecode ? wrongTimecode(timecode, rate) : null,
    frames: stretch.to - stretch.from + 1,
    sound: soundWanted && carried !== 'none' ? carried : pictured ? ('none' as const) : ('pcm' as const),
    writable: useWritable(size, rate, ffmpeg),
  };
}

type Choice = ReturnType<typeof useExportChoice>;

/** Whether the server has ffmpeg; where that is not known, what the browser writes itself is chosen. */
function useFfmpeg(): boolean {
  const [ffmpeg, setFfmpeg] = useState(false);
  useEffect(() => {
    call<Abilities>('/api/abilities').then(
      (abilities) => setFfmpeg(abilities.ffmpeg),
      () => {},
    );
  }, []);
  return ffmpeg;
}

/** The formats that can be written at a size and rate; null before that is known. */
function useWritable({ width, height }: Size, { num, den }: Rate, ffmpeg: boolean): ExportFormat[] | null {
  const [writable, setWritable] = useState<ExportFormat[] | null>(null);
  useEffect(() => {
    void Promise.all(exportFormatNames.map((each) => canWrite(each, width, height, { num, den }))).then(
      (can) => setWritable(exportFormatNames.filter((each, i) => can[i] && (ffmpeg || !needsFfmpeg(each)))),
    );
  }, [width, height, num, den, ffmpeg]);
  return writable;
}

/** Writing the crossing to a file. */
export function ExportStep() {
  const choice = useExportChoice();
  const job = useExport();
  const full = useExportQueue((state) => state.waiting.length >= mostWaiting);
  const { format, quality, part, range, sound, loudness, handles, writable, pictured, heard } = choice;
  const { timecode, wrongTimecode: wrong } = choice;
  const running = job.state === 'writing' || job.state === 'storing';
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <FormatField {...choice} />
      {pictured && <SizeAndQuality {...choice} />}
      <Stretch {...choice} />
      <SoundFields {...choice} />
      {saysTimecode(format) && <TimecodeField {...choice} />}
      {!pictured && !heard && (
        <Alert severity="info">There is no sound in this crossing yet: step Sound adds some.</Alert>
      )}
      <Measures {...choice} />
      {running && <UnderWay job={job} />}
      <Waiting />
      <Button
        variant={running ? 'outlined' : 'contained'}
        disabled={
          (writable !== null && !writable.includes(format)) || (!pictured && !heard) || full || wrong !== null
        }
        onClick={() => void startExport({ format, quality, part, range, sound, loudness, timecode }, handles)}
      >
        {running ? 'Add to queue' : 'Export'}
      </Button>
      <Outcome job={job} />
      <PathsAndLists />
    </Box>
  );
}

function FormatField({ format, setFormat, writable }: Choice) {
  return (
    <>
      <TextField
        select
        label="Format"
        value={format}
        onChange={(event) => setFormat(event.target.value as ExportFormat)}
        fullWidth
      >
        {exportFormatNames.flatMap((each, k) => [
          ...(k === 0 || exportFormats[exportFormatNames[k - 1]].of !== exportFormats[each].of
            ? [
                <ListSubheader key={exportFormats[each].of}>
                  {kindNames[exportFormats[each].of]}
                </ListSubheader>,
              ]
            : []),
          <MenuItem key={each} value={each} disabled={writable !== null && !writable.includes(each)}>
            {exportFormats[each].label}
            {writable !== null &&
              !writable.includes(each) &&
              (needsFfmpeg(each) ? ': needs ffmpeg' : ': not in this browser')}
          </MenuItem>,
        ])}
      </TextField>
      <Box sx={{ fontSize: 12, color: 'text.secondary', mt: -0.75 }}>{exportFormats[format].says}</Box>
    </>
  );
}

function SizeAndQuality({ crossing, size, rate, format, part, setPart, quality, setQuality }: Choice) {
  return (
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
            {partNames[each]} ({Object.values(exportSize(crossing, each)).join(' × ')})
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Quality"
        value={quality}
        disabled={!hasQuality(format)}
        onChange={({ target }) => setQuality(target.value as ExportQuality)}
        slotProps={{ select: { renderValue: (value) => qualityWord(value as ExportQuality) } }}
      >
        {exportQualityNames.map((each) => (
          <MenuItem key={each} value={each}>
            {exportQualities[each].label} ({megabits(exportBitrate(size.width, size.height, rate, each))})
          </MenuItem>
        ))}
      </TextField>
    </Box>
  );
}

function Stretch({ document, shots, pictured, range, setRange, handles, setHandles }: Choice) {
  const alone = range.of === 'traced shot';
  return (
    <>
      <RangeField document={document} shots={shots} alone={pictured} range={range} onChange={setRange} />
      {!alone && (
        <NumberField
          label="Handles"
          value={handles}
          low={0}
          high={1000}
          unit="frames"
          whole
          onChange={setHandles}
        />
      )}
    </>
  );
}

function SoundFields(choice: Choice) {
  const { format, pictured, carried, sound, soundWanted, setSoundWanted, loudness, setLoudness } = choice;
  if (carried === 'none') return null;
  return (
    <>
      {pictured && (
        <SwitchField
          label={`With sound (${soundNames[carried]})`}
          title={
            exportFormats[format].codec === 'avc' && carried === 'opus'
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
  );
}

/** How large and long the file will be. */
function Measures({ format, size, rate, frames, quality, sound }: Choice) {
  const bytes = expectedBytes(format, { ...size, rate, frames, quality }, sound);
  return (
    <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
      {size.width} × {size.height}, {frames} frames, {((frames * rate.den) / rate.num).toFixed(2)} s
      {bytes !== null && `, about ${formatBytes(bytes)}`}
    </Box>
  );
}

function UnderWay({ job }: { job: Extract<ExportJob, { state: 'writing' | 'storing' }> }) {
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <LinearProgress variant="determinate" value={job.share * 100} aria-label="Progress of the export" />
      <Box sx={{ fontSize: 13 }} role="status">
        {job.waits
          ? `Waiting. ${job.waits}`
          : job.state === 'storing'
            ? 'Finishing the file…'
            : job.of === 0
              ? 'Beginning…'
              : `Frame ${job.written} of ${job.of}${job.secondsLeft === null ? '' : `, ${job.secondsLeft} s left`}`}
      </Box>
      <Button variant="outlined" onClick={cancelExport}>
        Cancel
      </Button>
    </Box>
  );
}

/** What came of the exports of this visit. */
function Outcome({ job }: { job: ExportJob }) {
  const failed = useExportQueue((state) => state.failed);
  return (
    <>
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
          <Link component={PageLink} href="/exports">
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
    </>
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
    <Box component="ol" aria-label="Queued exports" sx={{ m: 0, pl: 2.5, fontSize: 13 }}>
      {waiting.map(({ id, choice, handles }) => (
        <li key={id}>
          {exportFormats[choice.format].label}
          {choice.part > 1 && (choice.part === 2 ? ', half size' : ', quarter size')}
          {choice.range.of === 'traced shot' && ', the shot alone'}
          {handles > 0 && choice.range.of !== 'traced shot' && `, handles of ${handles} frames`}{' '}
          <Button size="small" onClick={() => leaveQueue(id)}>
            Remove from queue
          </Button>
        </li>
      ))}
    </Box>
  );
}
