'use client';

import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { type KeyboardEvent, memo, useEffect, useMemo, useRef } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { mixedWith } from '@/core/compose/mixed';
import { handlesOf, layerSourceFrame, shownRange, shownSourceFrame } from '@/core/compose/source-frames';
import { applyChanges, playedRange } from '@/core/document/document';
import type { CrossingDocument, LayerRow, OutlineRow } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import { rateOf } from '@/core/time/rate';
import { formatTimecode } from '@/core/time/timecode';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import type { PreviewClient } from '../preview/preview-client';
import { goTo, selectTo } from '../session/go-to';
import { sourceFrameOf, useTraced } from '../session/traced';
import { setView, useView } from '../view/view-store';
import { SheetHead } from './SheetHead';
import { SheetRow } from './SheetRow';
import { sheetColumns, shownColumns, threadWidth } from './shown-columns';
import { useRowNotes } from './useRowNotes';
import { useRows } from './useRows';

/** The exposure sheet: a row a frame, read downward. */
export const Sheet = memo(function Sheet({
  client,
  narrow,
}: {
  client: PreviewClient | null;
  /** Without thumbnails. */
  narrow: boolean;
}) {
  const theme = useTheme();
  const scroller = useRef<HTMLDivElement>(null);
  const document = useShownDocument();
  const traced = useTraced();
  const shots = useDocument((state) => state.shots);
  const { frame, playing, range, coverage, layerId } = useView(
    useShallow(({ frame, playing, range, coverage, layerId }) => ({
      frame,
      playing,
      range,
      coverage,
      layerId,
    })),
  );
  const { crossing } = document;
  const layers = shownColumns(document, layerId);
  const outlines = traced?.outlines ?? noOutlines;
  const [playedFrom, playedTo] = playedRange(document);
  const { marks, moved, found } = useRowNotes(document);
  const { slots, height, first, last } = useRows(scroller, { count: crossing.length, frame, playing });
  useThumbnails(narrow ? null : client, first, last, document);

  const handles = useMemo(
    () => shownColumns(document, layerId).map((layer) => handlesSaid(document, layer, shots)),
    [document, layerId, shots],
  );
  const columns = columnWidths(layers.length, outlines.length, narrow);
  const columnIds = layers.map((layer) => layer.id).join(',');
  return (
    <Box
      component="section"
      aria-label="Sheet"
      sx={{ display: 'flex', flexDirection: 'column', height: '100%', minHeight: 0 }}
    >
      <SheetHead {...{ columns, layers, outlines, narrow }} handles={handles} inHand={layerId} />
      <Box
        ref={scroller}
        tabIndex={0}
        role="listbox"
        aria-label="Frames of the crossing"
        aria-multiselectable
        aria-activedescendant={`row-${frame}`}
        onKeyDown={(event) => goByKey(event, frame, crossing.length)}
        sx={{ flex: 1, minHeight: 0, overflowY: 'auto', scrollbarWidth: 'thin', contain: 'strict' }}
      >
        <Box sx={{ position: 'relative' }} style={{ height }}>
          {slots.map(({ slot, index, start }) => (
            <SheetRow
              key={slot}
              index={index}
              top={start}
              columns={columns}
              current={index === frame}
              selected={range !== null && index >= range[0] && index <= range[1]}
              timecode={formatTimecode(index, rateOf(crossing))}
              sources={sourcesText(document, shots, layers, index)}
              columnIds={columnIds}
              mark={marks[index] ?? ''}
              moved={moved[index] ?? ''}
              found={found[index] ?? ''}
              played={index >= playedFrom && index <= playedTo}
              client={narrow ? null : client}
              pictured={!narrow}
              covered={coverage?.[index] ?? null}
              tint={theme.kiv.role.incoming}
              outlines={outlines}
              poses={document.poses}
              edges={document.edges}
              source={traced ? sourceFrameOf(traced, index) : 0}
            />
          ))}
        </Box>
      </Box>
    </Box>
  );
});

/** The document; a column that a hand is slipping shows its new numbers at once. */
function useShownDocument(): CrossingDocument {
  const saved = useDocument((state) => state.document!);
  const slipping = useView((state) => (state.draft?.[0]?.table === 'layer' ? state.draft : null));
  return useMemo(() => (slipping ? applyChanges(saved, slipping) : saved), [saved, slipping]);
}

/** Asks for the pictures of the rows in view, a little later, so that scrolling and dragging come first. */
function useThumbnails(
  client: PreviewClient | null,
  first: number,
  last: number,
  document: CrossingDocument,
) {
  useEffect(() => {
    if (!client) return;
    const timer = setTimeout(
      () => client.requestThumbnails(Array.from({ length: last - first + 1 }, (_, k) => first + k)),
      120,
    );
    return () => clearTimeout(timer);
  }, [client, first, last, document]);
}

/** What of its shot a layer does not show, in words; empty where it shows all. */
function handlesSaid(document: CrossingDocument, layer: LayerRow, shots: readonly ShotMedia[]): string {
  const shot = shots.find((media) => media.shot.id === layer.shotId)?.shot;
  const handles = shot && shot.frameCount > 1 ? handlesOf(document, layer, shot) : null;
  return handles && handles.some((count) => count > 0)
    ? `Handles: ${handles[0]} frames before what is shown, ${handles[1]} after`
    : '';
}

function columnWidths(layers: number, outlines: number, narrow: boolean): string {
  const { wide, narrow: slim } = sheetColumns;
  const { number, source } = narrow ? slim : layers > 2 ? { number: 40, source: 28 } : wide;
  const picture = layers > 2 ? 50 : wide.picture;
  return [
    `${number}px`,
    ...new Array<string>(layers).fill(`${source}px`),
    ...(narrow ? [] : [`${picture}px`]),
    new Array<string>(outlines).fill(`${threadWidth}px`).join(' '),
    '1fr',
  ].join(' ');
}

function goByKey(event: KeyboardEvent, frame: number, length: number) {
  if (event.altKey) return;
  const target = {
    ArrowDown: frame + 1,
    ArrowRight: frame + 1,
    ArrowUp: frame - 1,
    ArrowLeft: frame - 1,
    PageDown: frame + 10,
    PageUp: frame - 10,
    Home: 0,
    End: length - 1,
  }[event.key];
  if (target === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  setView({ playing: false });
  if (event.shiftKey) selectTo(target);
  else goTo(target);
}

/** The source frames of the columns, as a row has them, with commas between. */
function sourcesText(
  document: CrossingDocument,
  shots: readonly ShotMedia[],
  layers: readonly LayerRow[],
  frame: number,
): string {
  return layers
    .map((layer) => {
      const shot = shots.find((media) => media.shot.id === layer.shotId)?.shot;
      return shot ? sourceText(document, layer, shot, frame) : '';
    })
    .join(',');
}

/**
 * The source frame that a layer shows, as a row has it: “=12” where it is the frame of the row above, “>12” where
 * frames in between are left out, “12+” where it is mixed with the next one, “(12)” where the shot has a picture that is trimmed away, empty where it
 * has none.
 */
function sourceText(document: CrossingDocument, layer: LayerRow, shot: Shot, frame: number): string {
  const source = shownSourceFrame(document, layer, shot, frame);
  if (source === null) {
    const spare = layerSourceFrame(document, layer, shot, frame);
    return spare >= 0 && spare < shot.frameCount ? `(${spare})` : '';
  }
  if (mixedWith(document, layer, shot, frame, source, shownRange(layer, shot))) return `${source}+`;
  const above = frame > 0 ? shownSourceFrame(document, layer, shot, frame - 1) : null;
  if (above === null) return String(source);
  const by = Math.abs(source - above);
  return `${by === 0 ? '=' : by > 1 ? '>' : ''}${source}`;
}

const noOutlines: OutlineRow[] = [];
