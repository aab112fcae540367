'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import { playedLength } from '@/core/document/document';
import { type ExportFormat, exportFormatNames, exportFormats } from '@/core/formats/export-formats';
import { canWrite } from '@/footage/video-writer';
import { useDocument } from '../document/document-store';
import { cancelExport, startExport, useExport } from './export-store';
import { PathsAndLists } from './PathsAndLists';
import { NumberField } from '../fields/NumberField';

/** Writing the crossing to a video file. */
export function ExportStep() {
  const document = useDocument((state) => state.document!);
  const { crossing } = document;
  const job = useExport();
  const [format, setFormat] = useState<ExportFormat>('webm');
  const [handles, setHandles] = useState(0);
  const [writable, setWritable] = useState<ExportFormat[] | null>(null);
  const { width, height, rateNum, rateDen } = crossing;
  useEffect(() => {
    void Promise.all(
      exportFormatNames.map((each) => canWrite(each, width, height, { num: rateNum, den: rateDen })),
    ).then((can) => setWritable(exportFormatNames.filter((_, i) => can[i])));
  }, [width, height, rateNum, rateDen]);
  const running = job.state === 'writing' || job.state === 'storing';
  const frames = playedLength(document) + 2 * handles;
  const seconds = (frames * rateDen) / rateNum;

  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <TextField
        select
        label="Format"
        value={format}
        disabled={running}
        onChange={(event) => setFormat(event.target.value as ExportFormat)}
        fullWidth
      >
        {exportFormatNames.map((each) => (
          <MenuItem key={each} value={each} disabled={writable !== null && !writable.includes(each)}>
            {exportFormats[each].label}
            {writable !== null && !writable.includes(each) && ': not in this browser'}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ fontSize: 12, color: 'text.secondary', mt: -0.75 }}>{exportFormats[format].says}</Box>
      <NumberField
        label="Handles at both ends"
        value={handles}
        low={0}
        high={1000}
        unit="frames"
        whole
        onChange={setHandles}
      />
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {width} × {height}, {frames} frames, {seconds.toFixed(2)} s
      </Box>
      {running ? (
        <Box sx={{ display: 'grid', gap: 1 }}>
          <LinearProgress variant="determinate" value={job.share * 100} aria-label="Progress of the export" />
          <Box sx={{ fontSize: 13 }} role="status">
            {job.state === 'storing'
              ? 'Storing the file…'
              : `Frame ${job.written} of ${job.of}${job.secondsLeft === null ? '' : `, ${job.secondsLeft} s left`}`}
          </Box>
          <Button variant="outlined" onClick={cancelExport}>
            Cancel
          </Button>
        </Box>
      ) : (
        <Button
          variant="contained"
          disabled={writable !== null && !writable.includes(format)}
          onClick={() => void startExport(format, handles)}
        >
          Export
        </Button>
      )}
      {job.state === 'done' && (
        <Alert severity="success" sx={{ alignItems: 'center' }}>
          Exported. <a href={`/api/exports/${job.id}/file`}>Download</a> or see all{' '}
          <Link href="/exports">exports</Link>.
        </Alert>
      )}
      {job.state === 'cancelled' && <Alert severity="info">Cancelled. Nothing was kept.</Alert>}
      {job.state === 'failed' && <Alert severity="error">{job.message}</Alert>}
      <PathsAndLists />
    </Box>
  );
}
