'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useSnackbar } from '@/interface/messages';
import { formatRate, rateOf } from '@/core/time/rate';
import { formatBytes } from '@/footage/refusal';
import { exportFormats } from '@/core/formats/export-formats';
import { call, sentenceOf } from '@/interface/api';
import type { ExportListing } from '@/wire/answers';
import { Page } from '@/interface/Page';
import { PageLink } from '@/interface/PageLink';
import { momentText } from '@/interface/dates';
import { type Searched, useSearch } from '@/interface/Search';
import { useAnswer } from '@/interface/useAnswer';
import { FileNames } from './FileNames';

const searched: Searched<ExportListing> = {
  textOf: ({ crossingName, shotName, format }) =>
    [crossingName, shotName ?? '', exportFormats[format].label].join(' '),
  asTheyCome: 'newest first',
  nameOf: ({ crossingName }) => crossingName,
};

/** What was made, from which revision, to download. */
export function ExportsView() {
  const { answer: exports, load, pending } = useAnswer<ExportListing[]>('/api/exports', 'the exports');
  const { found, fields } = useSearch(exports, searched);
  const { enqueueSnackbar } = useSnackbar();
  const remove = async (id: string) => {
    try {
      await call(`/api/exports/${id}`, 'DELETE');
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    }
    // Also when it was deleted elsewhere: the list says what there is.
    load();
  };

  return (
    <Page>
      <Box component="h1" sx={{ m: 0, mb: 2, fontSize: 24 }}>
        Exports
      </Box>
      {pending}
      {exports?.length === 0 && (
        <Box
          sx={{
            border: '1px dashed',
            borderColor: 'divider',
            p: 5,
            textAlign: 'center',
            color: 'text.secondary',
          }}
        >
          Nothing exported yet. Open a crossing from the{' '}
          <Link component={PageLink} href="/">
            shelf
          </Link>{' '}
          and choose its step Export.
        </Box>
      )}
      {fields}
      {exports && exports.length > 0 && <FileNames newest={exports[0]} />}
      {exports && exports.length > 0 && (
        <Table size="small" sx={{ bgcolor: 'background.paper', border: 1, borderColor: 'divider' }}>
          <TableHead>
            <TableRow>
              {['', 'Crossing', 'Revision', 'Format', 'Picture', 'Frames', 'Size', 'Made', 'Actions'].map(
                (title) => (
                  <TableCell key={title}>
                    {title === 'Actions' ? (
                      <span style={{ position: 'absolute', left: -9999 }}>{title}</span>
                    ) : (
                      title
                    )}
                  </TableCell>
                ),
              )}
            </TableRow>
          </TableHead>
          <TableBody>
            {found.map((row) => (
              <ExportRow key={row.id} row={row} onRemove={() => void remove(row.id)} />
            ))}
          </TableBody>
        </Table>
      )}
    </Page>
  );
}

function ExportRow({ row, onRemove }: { row: ExportListing; onRemove(): void }) {
  return (
    <TableRow>
      <TableCell sx={{ py: 0.5, pr: 0, width: 88 }}>
        {row.hasPicture && (
          <Box
            component="img"
            src={`/api/exports/${row.id}/picture`}
            alt=""
            sx={{ display: 'block', height: 44, maxWidth: 88, objectFit: 'contain' }}
          />
        )}
      </TableCell>
      <TableCell>
        {row.crossingId ? (
          <Box component={Link} href={`/crossings/${row.crossingId}`} sx={{ color: 'text.primary' }}>
            {row.crossingName}
          </Box>
        ) : (
          row.crossingName
        )}
      </TableCell>
      <TableCell>
        {row.revision}
        {row.newestRevision !== null && row.newestRevision > row.revision && (
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
            older: now {row.newestRevision}.{' '}
            <Box component={Link} href={`/crossings/${row.crossingId}#export`} sx={{ color: 'text.primary' }}>
              Make it again
            </Box>
          </Box>
        )}
      </TableCell>
      <TableCell>
        {exportFormats[row.format].label}
        {row.sound !== 'none' && row.sound !== 'pcm' && ', with sound'}
      </TableCell>
      <TableCell>
        {row.width} × {row.height}, {formatRate(rateOf(row))} fps
      </TableCell>
      <TableCell>
        {row.firstFrame !== null && (
          <>
            {row.firstFrame} to {row.firstFrame + row.frameCount - 1}
            {row.shotName && ` of ${row.shotName}`}:{' '}
          </>
        )}
        {row.frameCount} frames, {((row.frameCount * row.rateDen) / row.rateNum).toFixed(2)} s
      </TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>{formatBytes(row.byteSize)}</TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>{momentText(row.createdAt)}</TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>
        <Button href={`/api/exports/${row.id}/file`} variant="outlined" sx={{ mr: 1 }}>
          Download
        </Button>
        <Button
          color="error"
          onClick={onRemove}
          aria-label={`Delete the export of ${row.crossingName}, revision ${row.revision}`}
        >
          Delete
        </Button>
      </TableCell>
    </TableRow>
  );
}
