import { fileNameOf } from '@/core/formats/file-name';
import type { Shots } from '@/core/compose/source-frames';
import { playedRange } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import { tracedLayer } from '@/core/document/plans';
import { coverageRows, findingRows, keyRows, pointRows } from '@/core/formats/lists';
import { outlineJson } from '@/core/formats/outline-json';
import { svgOfFrame, svgOfFrames } from '@/core/formats/svg';
import { exportNameBy } from '@/core/formats/export-name';
import { edlOf, type Finished, otioOf, toldBy } from '@/core/formats/timeline';
import { type TracedOutline, tracedOutline } from '@/core/formats/traced-outline';
import { formatOf, type PictureOf } from '@/core/formats/export-formats';
import { startWorker } from '@/interface/start-worker';
import type { ExportService } from '@/render/export.worker';
import { call } from '@/interface/api';
import type { ExportListing, ShotMedia } from '@/wire/answers';
import { csvText } from '@/interface/csv';
import { useChecks } from '../check/checks-store';
import { useDocument } from '../document/document-store';
import { layerName } from '../session/layer-name';
import { sourceFrameOf, tracedNow } from '../session/traced';
import { useView } from '../view/view-store';

/** Paths, lists, timelines and single pictures: small files, made here and downloaded at once. */

/** What can be written, with what it is good for. */
export const writings = [
  { name: 'svg', label: 'Outline on this frame, SVG', says: 'A path in the shot’s pixels' },
  { name: 'svgs', label: 'Outline on all frames, SVG', says: 'One group per frame, named by its number' },
  {
    name: 'json',
    label: 'Outline with its poses, JSON',
    says: 'As docs/formats/outline.schema.json describes it',
  },
  { name: 'points', label: 'Outline’s points, CSV', says: 'One row per point and frame' },
  { name: 'keys', label: 'Keys of moves, speed and edges, CSV', says: 'All keys in the crossing' },
  { name: 'coverage', label: 'Coverage, CSV', says: 'How much is covered, frame by frame' },
  { name: 'findings', label: 'Findings, CSV', says: 'Everything that Check has found' },
  {
    name: 'otio',
    label: 'Timeline, OpenTimelineIO',
    says: 'One track: outgoing, incoming, a transition between them; the newest export on a track that is off',
  },
  {
    name: 'otio-layers',
    label: 'Timeline in layers, OpenTimelineIO',
    says: 'A track for each layer, one over the other',
  },
  { name: 'edl', label: 'Cut list, CMX 3600', says: 'A cut where half is covered, with speeds' },
] as const;
export type Writing = (typeof writings)[number]['name'];

/** Writes one of them and downloads it. Returns why it could not. */
export async function writeOut(writing: Writing): Promise<string | null> {
  const { document, shots } = useDocument.getState();
  if (!document) return null;
  const { crossing } = document;
  const table = tableOf(shots);
  const fileNames = Object.fromEntries(shots.map(({ shot, originalName }) => [shot.id, originalName]));
  const layer = tracedNow();
  const { outlineId, frame } = useView.getState();
  const inHand = layer?.outlines.find(({ id }) => id === outlineId) ?? layer?.outlines[0];
  const traced: TracedOutline | null = inHand ? tracedOutline(document, table, inHand.id) : null;
  const ofOutline = (extension: string, text: string | null, name: string) =>
    text === null
      ? `${inHand!.name} has no line on this frame.`
      : download(`${crossing.name} ${name}.${extension}`, text);
  if (['svg', 'svgs', 'json', 'points'].includes(writing) && (!traced || traced.poses.length === 0))
    return 'Draw an outline first.';
  switch (writing) {
    case 'svg': {
      const source = sourceFrameOf(layer!, frame);
      return ofOutline('svg', svgOfFrame(traced!, source), `${traced!.outline.name} ${source}`);
    }
    case 'svgs':
      return ofOutline('svg', svgOfFrames(traced!), traced!.outline.name);
    case 'json':
      return ofOutline('json', outlineJson(traced!), traced!.outline.name);
    case 'points':
      return ofOutline('csv', csvText(pointRows(traced!)), `${traced!.outline.name} points`);
    case 'keys': {
      const nameOf = (id: string) => {
        const layer = document.layers[id];
        return layer ? layerName(layer) : (document.outlines[id]?.name ?? 'the whole picture');
      };
      return download(`${crossing.name} keys.csv`, csvText(keyRows(document, nameOf)));
    }
    case 'coverage': {
      const { coverage } = useView.getState();
      if (!coverage) return 'Coverage is still being measured. Try again in a moment.';
      return download(`${crossing.name} coverage.csv`, csvText(coverageRows(coverage)));
    }
    case 'findings':
      return download(`${crossing.name} findings.csv`, csvText(findingRows(useChecks.getState().findings)));
    case 'otio':
    case 'otio-layers':
      return download(
        `${crossing.name}${writing === 'otio' ? '' : ' layers'}.otio`,
        otioOf(document, table, {
          ...{ form: writing === 'otio' ? 'cut' : 'layers', cutAt: halfCovered(), fileNames },
          finished: await finishedExport(document),
        }),
      );
    case 'edl': {
      const dropFrame = crossing.rateDen === 1001 && crossing.rateNum !== 24000;
      return download(
        `${crossing.name}.edl`,
        edlOf(document, table, { cutAt: halfCovered(), dropFrame, fileNames }),
      );
    }
  }
}

/** The newest export of all that is played, as it is called when it is downloaded; null where there is none. */
async function finishedExport(document: CrossingDocument): Promise<Finished | null> {
  const [first, last] = playedRange(document);
  const [exports, { exportName }] = await Promise.all([
    call<ExportListing[]>('/api/exports'),
    call<{ exportName: string }>('/api/settings'),
  ]);
  const newest = exports.find(
    ({ crossingId, format, firstFrame, frameCount, shotName }) =>
      crossingId === document.crossing.id &&
      shotName === null &&
      formatOf(format).of === 'result' &&
      formatOf(format).writer !== 'pictures' &&
      firstFrame === first &&
      frameCount === last - first + 1,
  );
  if (!newest) return null;
  const fileName = exportNameBy(exportName, { ...newest, crossing: newest.crossingName });
  return { fileName, frames: newest.frameCount };
}

/** The crossing frame from which half is covered; the middle where none is. */
function halfCovered(): number {
  const { coverage } = useView.getState();
  const at = coverage?.findIndex((share) => share >= 0.5) ?? -1;
  return at >= 0 ? at : Math.floor((useDocument.getState().document?.crossing.length ?? 0) / 2);
}

/** What a timeline cannot say of a crossing. */
export function notSaid(document: CrossingDocument, shots: readonly ShotMedia[]): string[] {
  return toldBy(document, tableOf(shots)).lost;
}

function tableOf(shots: readonly ShotMedia[]): Shots {
  return Object.fromEntries(shots.map(({ shot }) => [shot.id, shot]));
}

/** The frame on screen as a PNG: downloaded, or copied to the clipboard. */
export async function writeStill(of: PictureOf, to: 'file' | 'clipboard' = 'file'): Promise<null> {
  const { document, shots } = useDocument.getState();
  if (!document || !tracedLayer(document)) return null;
  const { frame } = useView.getState();
  const { service, failed, end } = startWorker<ExportService>(
    new Worker(new URL('../../render/export.worker.ts', import.meta.url), { type: 'module' }),
  );
  try {
    const png = await Promise.race([service.still({ document, media: shots }, frame, of), failed]);
    const name = `${document.crossing.name} ${of === 'result' ? '' : `${of} `}${frame}.png`;
    const blob = new Blob([png as Uint8Array<ArrayBuffer>], { type: 'image/png' });
    if (to === 'file') return save(name, blob);
    await navigator.clipboard.write([new ClipboardItem({ 'image/png': blob })]).catch(() => {
      throw new Error('The browser does not let Kiv use the clipboard here. Download the picture instead.');
    });
    return null;
  } finally {
    end();
  }
}

function download(name: string, text: string): null {
  return save(name, new Blob([text], { type: 'text/plain;charset=utf-8' }));
}

function save(name: string, blob: Blob): null {
  const link = window.document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = fileNameOf(name, 'crossing');
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
  return null;
}
