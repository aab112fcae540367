'use client';

import Box from '@mui/material/Box';
import { styled, useTheme } from '@mui/material/styles';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { applyChanges, layersInOrder, playedRange } from '@/core/document/document';
import { shownSourceFrame } from '@/core/compose/scene';
import type { OutlineRow, PoseRow } from '@/core/document/rows';
import { shapeAt } from '@/core/outline';
import { formatTimecode } from '@/core/time/timecode';
import { LoopIcon, MarkIcon, SeamIcon } from '@/interface/icons';
import { RoleMark } from '@/interface/RoleMark';
import { mono } from '@/interface/theme';
import { goTo } from './commands';
import { useDocument } from './document-store';
import { layerName } from './lining-up';
import { type PreviewClient, thumbnailHeight } from './preview-client';
import { sourceFrameOf, useTraced } from './traced';
import { rowHeight, startSlipping } from './slipping';
import { setView, useView } from './view-store';

const threadWidth = 16;

/** The exposure sheet: a row a frame, read downward. */
export function Sheet({ client }: { client: PreviewClient | null }) {
  const theme = useTheme();
  const scroller = useRef<HTMLDivElement>(null);
  const traced = useTraced();
  const kept = useDocument((state) => state.document);
  const shots = useDocument((state) => state.shots);
  // A column that a hand is slipping shows its new numbers at once.
  const slipping = useView((state) => (state.draft?.[0]?.table === 'layer' ? state.draft : null));
  const document = useMemo(() => (kept && slipping ? applyChanges(kept, slipping) : kept), [kept, slipping]);
  const frame = useView((state) => state.frame);
  const playing = useView((state) => state.playing);
  const coverage = useView((state) => state.coverage);
  const crossing = document!.crossing;
  const layers = layersInOrder(document!).reverse();
  const inHand = useView((state) => state.layerId);
  const [playedFrom, playedTo] = playedRange(document!);
  const marks = useMemo(() => {
    const names: Record<number, string> = {};
    for (const { frame, name } of Object.values(document!.marks))
      names[frame] = names[frame] ? `${names[frame]}, ${name}` : name;
    return names;
  }, [document]);
  const rows = useVirtualizer({
    count: crossing.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 4,
  });
  const items = rows.getVirtualItems();
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
    if (!client) return;
    // A little later, so that scrolling and dragging come first.
    const timer = setTimeout(
      () => client.requestThumbnails(Array.from({ length: last - first + 1 }, (_, k) => first + k)),
      120,
    );
    return () => clearTimeout(timer);
  }, [client, first, last, document]);

  const columns = `46px ${layers.map(() => '34px').join(' ')} 62px ${traced?.outlines.map(() => `${threadWidth}px`).join(' ') ?? ''} 1fr`;
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
        <Box sx={head}>Result</Box>
        {traced?.outlines.map((outline) => (
          <Box key={outline.id} sx={{ ...head, textAlign: 'center' }} title={outline.name}>
            {outline.kind === 'seam' ? <SeamIcon size={15} /> : <LoopIcon size={15} />}
          </Box>
        ))}
        <Box sx={head}>Covered</Box>
      </Box>
      <Box
        ref={scroller}
        tabIndex={0}
        role="listbox"
        aria-label="Frames of the crossing"
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
          goTo(target);
        }}
        sx={{ flex: 1, minHeight: 0, overflowY: 'auto', scrollbarWidth: 'thin' }}
      >
        <Box sx={{ position: 'relative' }} style={{ height: rows.getTotalSize() }}>
          {items.map(({ index, start }) => (
            <SheetRow
              key={index}
              index={index}
              top={start}
              columns={columns}
              current={index === frame}
              timecode={formatTimecode(index, { num: crossing.rateNum, den: crossing.rateDen })}
              sources={layers
                .map((layer) => {
                  const shot = shots.find((media) => media.shot.id === layer.shotId)?.shot;
                  return shot ? shownSourceFrame(document!, layer, shot, index) : null;
                })
                .join(',')}
              columnIds={columnIds}
              mark={marks[index] ?? ''}
              played={index >= playedFrom && index <= playedTo}
              client={client}
              covered={coverage?.[index] ?? null}
              tint={theme.kiv.role.incoming}
              outlines={traced?.outlines ?? noOutlines}
              poses={document!.poses}
              source={traced ? sourceFrameOf(traced, index) : 0}
            />
          ))}
        </Box>
      </Box>
    </Box>
  );
}

const noOutlines: OutlineRow[] = [];

interface RowProps {
  index: number;
  top: number;
  columns: string;
  current: boolean;
  timecode: string;
  /** Source frames from the top layer down, by commas; empty where a layer has no picture. */
  sources: string;
  /** The layers of these columns, by commas. */
  columnIds: string;
  /** Names of the marks on this frame. */
  mark: string;
  /** Whether it lies between the crossing's in and out. */
  played: boolean;
  client: PreviewClient | null;
  covered: number | null;
  tint: string;
  outlines: OutlineRow[];
  poses: Readonly<Record<string, readonly PoseRow[]>>;
  source: number;
}

const SheetRow = memo(function SheetRow({
  index,
  top,
  columns,
  current,
  timecode,
  sources,
  columnIds,
  mark,
  played,
  client,
  covered,
  tint,
  outlines,
  poses,
  source,
}: RowProps) {
  return (
    <Row
      id={`row-${index}`}
      role="option"
      aria-selected={current}
      aria-label={`Frame ${index}${mark && `, ${mark}`}`}
      className={`${current ? 'current' : index % 5 === 0 ? 'fifth' : ''}${played ? '' : ' out'}`}
      onClick={() => {
        setView({ playing: false });
        goTo(index);
      }}
      style={{ top, gridTemplateColumns: columns }}
    >
      <div className="number">
        <b>{index}</b>
        <small>{timecode.slice(6)}</small>
      </div>
      {sources.split(',').map((text, k) => (
        <div
          key={k}
          className="source"
          onPointerDown={(event) => startSlipping(event.nativeEvent, columnIds.split(',')[k])}
        >
          {text || '–'}
        </div>
      ))}
      <ThumbnailCell client={client} frame={index} />
      {outlines.map((outline) => (
        <Thread key={outline.id} poses={poses[outline.id] ?? []} source={source} />
      ))}
      <CoverageBar covered={covered} tint={tint} />
      {mark && (
        <span className="mark" title={mark}>
          <MarkIcon size={11} /> {mark}
        </span>
      )}
    </Row>
  );
});

const Row = styled('div')(({ theme }) => ({
  position: 'absolute',
  left: 0,
  right: 0,
  height: rowHeight,
  display: 'grid',
  alignItems: 'center',
  columnGap: 6,
  padding: '0 8px',
  font: `12px ${mono}`,
  cursor: 'pointer',
  borderBottom: `1px solid ${theme.palette.divider}`,
  '&.fifth': { background: theme.palette.action.hover },
  '&.current': {
    background: theme.palette.action.selected,
    boxShadow: `inset 4px 0 0 ${theme.palette.primary.main}`,
  },
  '& .number': { lineHeight: 1.15, display: 'grid' },
  '& .number small': { fontSize: 10, color: theme.palette.text.secondary },
  '&.current .number small': { color: 'inherit' },
  '& .source': {
    textAlign: 'right',
    cursor: 'ns-resize',
    touchAction: 'none',
    userSelect: 'none',
    lineHeight: '34px',
  },
  '&.out': { color: theme.palette.text.secondary, fontStyle: 'italic' },
  '&.out canvas': { opacity: 0.35 },
  '& .mark': {
    position: 'absolute',
    right: 8,
    top: 2,
    maxWidth: 110,
    padding: '0 4px',
    display: 'flex',
    alignItems: 'center',
    gap: 3,
    overflow: 'hidden',
    whiteSpace: 'nowrap',
    fontSize: 10,
    lineHeight: '14px',
    color: theme.palette.background.paper,
    background: theme.palette.text.primary,
    borderRadius: 2,
  },
  '& .bar': {
    height: 20,
    border: `1px solid ${theme.palette.divider}`,
    position: 'relative',
    overflow: 'hidden',
  },
  '& .bar i': {
    position: 'absolute',
    inset: '0 auto 0 0',
    backgroundImage: 'repeating-linear-gradient(135deg, transparent 0 4px, rgba(255,255,255,.28) 4px 6px)',
  },
}));

/** The bar that is filled as far as the matte covers the frame: down the sheet the bars draw the wipe itself. */
function CoverageBar({ covered, tint }: { covered: number | null; tint: string }) {
  if (covered === null) return <div />;
  const percent =
    covered === 0 || covered === 1 ? covered * 100 : Math.min(99.9, Math.max(0.1, covered * 100));
  return (
    <div
      className="bar"
      role="img"
      aria-label={`Covered ${percent.toFixed(1)} %`}
      title={`${percent.toFixed(1)} %`}
    >
      <i style={{ width: `${percent}%`, backgroundColor: tint }} />
    </div>
  );
}

/** An outline's thread through the frames: a bead where there is a pose, a line in between, a band where it is full. */
function Thread({ poses, source }: { poses: readonly PoseRow[]; source: number }) {
  const shape = shapeAt(poses, source);
  const [above, below] = [
    shapeAt(poses, source - 1).state !== 'empty',
    shape.state !== 'empty' && shapeAt(poses, source + 1).state !== 'empty',
  ];
  const mid = rowHeight / 2;
  const what = {
    empty: 'nothing cut yet',
    full: 'cut in full',
    posed: `pose ${'origin' in shape ? shape.origin : ''}`,
    'in-between': 'in-between',
  }[shape.state];
  return (
    <svg width={threadWidth} height={rowHeight} role="img" aria-label={what} style={{ display: 'block' }}>
      <title>{what}</title>
      {shape.state === 'full' ? (
        <path d={`M5 0v${rowHeight}M11 0v${rowHeight}`} stroke="currentColor" strokeWidth={1.4} />
      ) : (
        shape.state !== 'empty' && (
          <path
            d={`M8 ${above ? 0 : mid}V${below ? rowHeight : mid}`}
            stroke="currentColor"
            strokeWidth={1.2}
            strokeDasharray={shape.state === 'in-between' ? '2 3' : undefined}
          />
        )
      )}
      {shape.state === 'posed' && (
        <circle
          cx={8}
          cy={mid}
          r={5}
          fill={shape.origin === 'by hand' ? 'currentColor' : 'none'}
          stroke="currentColor"
          strokeWidth={1.6}
        />
      )}
    </svg>
  );
}

function ThumbnailCell({ client, frame }: { client: PreviewClient | null; frame: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [, setVersion] = useState(0);
  useEffect(
    () => client?.onThumbnail((told) => told === frame && setVersion((version) => version + 1)),
    [client, frame],
  );
  useEffect(() => {
    const thumbnail = client?.thumbnail(frame);
    if (!thumbnail || !canvas.current) return;
    canvas.current.width = thumbnail.width;
    canvas.current.height = thumbnail.height;
    canvas.current
      .getContext('2d')
      ?.putImageData(new ImageData(thumbnail.rgba, thumbnail.width, thumbnail.height), 0, 0);
  });
  return (
    <canvas
      ref={canvas}
      width={96}
      height={thumbnailHeight}
      aria-hidden
      style={{
        width: 58,
        height: 'auto',
        maxHeight: rowHeight - 2,
        objectFit: 'contain',
        display: 'block',
        background: 'rgba(128,128,128,.25)',
      }}
    />
  );
}
