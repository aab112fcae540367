'use client';

import { rateOf } from '@/core/time/rate';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useMemo, useRef } from 'react';
import { applyChanges, playedRange } from '@/core/document/document';
import type { CrossingDocument, LayerRow, OutlineRow } from '@/core/document/tables';
import { mixedWith } from '@/core/compose/mixed';
import { shownRange, shownSourceFrame } from '@/core/compose/source-frames';
import type { Shot } from '@/core/model/shot';
import { formatTimecode } from '@/core/time/timecode';
import { LoopIcon, NarrowIcon, SeamIcon, WidenIcon } from '@/interface/icons';
import { SmallButton } from '@/interface/SmallButton';
import { RoleMark } from '@/interface/RoleMark';
import { useChecks } from '../check/checks-store';
import { goTo, selectTo } from '../session/go-to';
import { useDocument } from '../document/document-store';
import { layerName } from '../session/layer-name';
import type { PreviewClient } from '../preview/preview-client';
import { sourceFrameOf, useTraced } from '../session/traced';
import { channelWords } from '../move/channel-words';
import { SheetRow, threadWidth } from './SheetRow';
import { rowHeight } from './slipping';
import { setView, useView } from '../view/view-store';
import { shownColumns } from './shown-columns';

/** px of the sheet's width, and of what lies above its rows in the window, before it is measured. */
const [sheetWidth, aboveRows] = [288, 74];

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
  const traced = useTraced();
  const saved = useDocument((state) => state.document);
  const shots = useDocument((state) => state.shots);
  // A column that a hand is slipping shows its new numbers at once.
  const slipping = useView((state) => (state.draft?.[0]?.table === 'layer' ? state.draft : null));
  const document = useMemo(
    () => (saved && slipping ? applyChanges(saved, slipping) : saved),
    [saved, slipping],
  );
  const frame = useView((state) => state.frame);
  const playing = useView((state) => state.playing);
  const range = useView((state) => state.range);
  const coverage = useView((state) => state.coverage);
  const crossing = document!.crossing;
  const inHand = useView((state) => state.layerId);
  const layers = shownColumns(document!, inHand);
  const [playedFrom, playedTo] = playedRange(document!);
  const marks = useMemo(() => {
    const names: Record<number, string> = {};
    for (const { frame, name } of Object.values(document!.marks))
      names[frame] = names[frame] ? `${names[frame]}, ${name}` : name;
    return names;
  }, [document]);
  const findings = useChecks((state) => state.findings);
  const moves = document!.moves;
  const moved = useMemo(() => {
    const named: Record<number, string> = {};
    for (const { frame, channel } of Object.values(moves)) {
      const name = channelWords[channel].name;
      const before = named[frame];
      if (!before?.includes(name)) named[frame] = before ? `${before}, ${name}` : `Key of a move: ${name}`;
    }
    return named;
  }, [moves]);
  const found = useMemo(() => {
    const says: Record<number, string> = {};
    for (const finding of findings)
      for (let at = finding.from; at <= finding.to; at++)
        says[at] = says[at] ? `${says[at]} ${finding.says}` : finding.says;
    return says;
  }, [findings]);
  const likelyHeight = window.innerHeight - aboveRows;
  const rows = useVirtualizer({
    count: crossing.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 2,
    // Its rows are made with it, about where they will be: else all of them are made in one go once it is measured.
    initialRect: { width: sheetWidth, height: likelyHeight },
    initialOffset: () => Math.max(0, Math.min(frame + 4, crossing.length) * rowHeight - likelyHeight),
    // Scrolling goes on while the rows are made.
    useFlushSync: false,
  });
  const items = rows.getVirtualItems();
  // A row that leaves at one end comes in at the other, with new numbers: scrolling builds and moves nothing.
  const kept = Math.max(rowsKept, items.length);
  const slots = items
    .map(({ index, start }) => ({ slot: index % kept, index, start }))
    .sort((a, b) => a.slot - b.slot);
  const [first, last] = [items[0]?.index ?? 0, items[items.length - 1]?.index ?? 0];

  useEffect(() => {
    // While it plays the sheet stays still: a loop's jump back would make all its rows anew at once.
    if (playing) return;
    // From what the list already knows: asking the element for its size would lay the page out at every frame.
    const [from, height] = [rows.scrollOffset ?? 0, rows.scrollRect?.height ?? 0];
    const top = frame * rowHeight;
    if (!scroller.current || height === 0) return;
    if (top < from + 2 * rowHeight) scroller.current.scrollTop = top - 2 * rowHeight;
    else if (top + 4 * rowHeight > from + height) scroller.current.scrollTop = top + 4 * rowHeight - height;
  }, [frame, playing, rows, rows.scrollRect?.height]);
  useEffect(() => {
    if (!client || narrow) return;
    // A little later, so that scrolling and dragging come first.
    const timer = setTimeout(
      () => client.requestThumbnails(Array.from({ length: last - first + 1 }, (_, k) => first + k)),
      120,
    );
    return () => clearTimeout(timer);
  }, [client, narrow, first, last, document]);

  const threads = traced?.outlines.map(() => `${threadWidth}px`).join(' ') ?? '';
  const [number, source, picture] = layers.length > 2 || narrow ? [40, 28, 50] : [44, 32, 58];
  const columns = [
    `${number}px`,
    ...layers.map(() => `${source}px`),
    ...(narrow ? [] : [`${picture}px`]),
    threads,
    '1fr',
  ].join(' ');
  const columnIds = layers.map((layer) => layer.id).join(',');
  const head = { fontSize: 11, color: 'text.secondary' };
  return (
    <Box
      component="section"
      aria-label="Sheet"
      sx={{ display: 'flex', flexDirection: 'column', height: '100%', minHeight: 0 }}
    >
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: columns,
          alignItems: 'center',
          columnGap: '6px',
          px: 1,
          height: 30,
          borderBottom: 1,
          borderColor: 'divider',
        }}
      >
        <Box sx={head}>Frame</Box>
        {layers.map((layer) => (
          <Box
            key={layer.id}
            component="button"
            aria-pressed={layer.id === inHand}
            aria-label={`Take the column of the ${layerName(layer)} in hand`}
            title={`Drag this column to slip the ${layerName(layer)}`}
            onClick={() => setView({ layerId: layer.id })}
            sx={{
              justifySelf: 'end',
              border: 0,
              p: '2px',
              bgcolor: 'transparent',
              borderBottom: 2,
              borderColor: layer.id === inHand ? 'primary.main' : 'transparent',
              cursor: 'pointer',
              filter: layer.visible ? undefined : 'saturate(0.35)',
            }}
          >
            <RoleMark role={layer.role} size={16} />
          </Box>
        ))}
        {!narrow && <Box sx={head}>Result</Box>}
        {traced?.outlines.map((outline) => (
          <Box key={outline.id} sx={{ ...head, textAlign: 'center' }} title={outline.name}>
            {outline.kind === 'seam' ? <SeamIcon size={15} /> : <LoopIcon size={15} />}
          </Box>
        ))}
        <Box sx={{ display: 'flex', alignItems: 'center', minWidth: 0 }}>
          <Box sx={{ ...head, overflow: 'hidden', textOverflow: 'ellipsis', flex: 1 }}>Covered</Box>
          <SmallButton
            label={
              narrow ? 'Wider sheet, with pictures (Shift Q)' : 'Narrow sheet, without pictures (Shift Q)'
            }
            onClick={() => setView({ sheetNarrow: !narrow })}
          >
            {narrow ? <WidenIcon size={15} /> : <NarrowIcon size={15} />}
          </SmallButton>
        </Box>
      </Box>
      <Box
        ref={scroller}
        tabIndex={0}
        role="listbox"
        aria-label="Frames of the crossing"
        aria-multiselectable
        aria-activedescendant={`row-${frame}`}
        onKeyDown={(event) => {
          if (event.altKey) return;
          const target = {
            ArrowDown: frame + 1,
            ArrowRight: frame + 1,
            ArrowUp: frame - 1,
            ArrowLeft: frame - 1,
            PageDown: frame + 10,
            PageUp: frame - 10,
            Home: 0,
            End: crossing.length - 1,
          }[event.key];
          if (target === undefined) return;
          event.preventDefault();
          event.stopPropagation();
          setView({ playing: false });
          if (event.shiftKey) selectTo(target);
          else goTo(target);
        }}
        sx={{ flex: 1, minHeight: 0, overflowY: 'auto', scrollbarWidth: 'thin', contain: 'strict' }}
      >
        <Box sx={{ position: 'relative' }} style={{ height: rows.getTotalSize() }}>
          {slots.map(({ slot, index, start }) => (
            <SheetRow
              key={slot}
              index={index}
              top={start}
              columns={columns}
              current={index === frame}
              selected={range !== null && index >= range[0] && index <= range[1]}
              timecode={formatTimecode(index, rateOf(crossing))}
              sources={layers
                .map((layer) => {
                  const shot = shots.find((media) => media.shot.id === layer.shotId)?.shot;
                  return shot ? sourceText(document!, layer, shot, index) : '';
                })
                .join(',')}
              columnIds={columnIds}
              mark={marks[index] ?? ''}
              moved={moved[index] ?? ''}
              found={found[index] ?? ''}
              played={index >= playedFrom && index <= playedTo}
              client={narrow ? null : client}
              pictured={!narrow}
              covered={coverage?.[index] ?? null}
              tint={theme.kiv.role.incoming}
              outlines={traced?.outlines ?? noOutlines}
              poses={document!.poses}
              edges={document!.edges}
              source={traced ? sourceFrameOf(traced, index) : 0}
            />
          ))}
        </Box>
      </Box>
    </Box>
  );
});

/**
 * The source frame that a layer shows, as a row has it: “=12” where it is the frame of the row above, “>12” where
 * frames in between are left out, “12+” where it is mixed with the next one, empty where there is no picture.
 */
function sourceText(document: CrossingDocument, layer: LayerRow, shot: Shot, frame: number): string {
  const source = shownSourceFrame(document, layer, shot, frame);
  if (source === null) return '';
  if (mixedWith(document, layer, shot, frame, source, shownRange(layer, shot))) return `${source}+`;
  const above = frame > 0 ? shownSourceFrame(document, layer, shot, frame - 1) : null;
  if (above === null) return String(source);
  const by = Math.abs(source - above);
  return `${by === 0 ? '=' : by > 1 ? '>' : ''}${source}`;
}

const noOutlines: OutlineRow[] = [];

/** More rows than are in view at once on most screens. */
const rowsKept = 100;
