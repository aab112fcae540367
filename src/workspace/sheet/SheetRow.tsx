'use client';

import { styled } from '@mui/material/styles';
import { memo, useEffect, useRef, useState } from 'react';
import type { EdgeRow, OutlineRow, PoseRow } from '@/core/document/tables';
import { shapeAt } from '@/core/outline';
import { FindingIcon, MarkIcon } from '@/interface/icons';
import { mono } from '@/interface/theme';
import { doubtSays } from '../trace/carry-store';
import { goTo, selectTo } from '../session/go-to';
import { type PreviewClient, thumbnailHeight } from '../preview/preview-client';
import { rowHeight, startSlipping } from './slipping';
import { gutter, sheetColumns, threadWidth } from './shown-columns';
import { setView } from '../view/view-store';

interface RowProps {
  index: number;
  top: number;
  columns: string;
  current: boolean;
  /** Whether it is one of several selected frames. */
  selected: boolean;
  timecode: string;
  /** Source frames from the top layer down, by commas, as `sourceText` gives them. */
  sources: string;
  /** The layers of these columns, by commas. */
  columnIds: string;
  /** Names of the marks on this frame. */
  mark: string;
  /** Which moves have a key on it, in words; empty where none has. */
  moved: string;
  /** What was found on it, in words; empty where nothing was. */
  found: string;
  /** Whether it lies between the crossing's in and out. */
  played: boolean;
  client: PreviewClient | null;
  /** Whether it has a thumbnail. */
  pictured: boolean;
  covered: number | null;
  tint: string;
  outlines: OutlineRow[];
  poses: Readonly<Record<string, readonly PoseRow[]>>;
  edges: Readonly<Record<string, readonly EdgeRow[]>>;
  source: number;
}

/** One frame of the crossing. */
export const SheetRow = memo(function SheetRow({
  index,
  top,
  columns,
  current,
  selected,
  timecode,
  sources,
  columnIds,
  mark,
  found,
  moved,
  played,
  client,
  pictured,
  covered,
  tint,
  outlines,
  poses,
  edges,
  source,
}: RowProps) {
  return (
    <Row
      id={`row-${index}`}
      role="option"
      aria-selected={current || selected}
      aria-label={`Frame ${index}${mark && `, ${mark}`}`}
      className={`${selected ? 'selected ' : ''}${current ? 'current' : index % 5 === 0 ? 'fifth' : ''}${played ? '' : ' out'}`}
      onClick={({ shiftKey }) => {
        setView({ playing: false });
        if (shiftKey) selectTo(index);
        else {
          setView(({ scope }) => ({ range: null, scope: scope === 'selected' ? 'this' : scope }));
          goTo(index);
        }
      }}
      style={{ top, gridTemplateColumns: columns, columnGap: sheetColumns[pictured ? 'wide' : 'narrow'].gap }}
    >
      <div className="number">
        <b>{index}</b>
        {moved && <i role="img" aria-label={moved} title={moved} />}
        <small>{timecode.slice(6)}</small>
      </div>
      {sources.split(',').map((text, k) => (
        <div
          key={k}
          className={`source${text.startsWith('=') ? ' again' : text.startsWith('>') ? ' leaves-out' : text.startsWith('(') ? ' spare' : ''}`}
          title={
            text.startsWith('=')
              ? 'The same frame once more'
              : text.startsWith('>')
                ? 'Frames before this one are left out'
                : text.startsWith('(')
                  ? 'A handle: the shot has this picture, and it is trimmed away'
                  : text.endsWith('+')
                    ? 'Mixed with the next frame'
                    : undefined
          }
          onPointerDown={(event) => startSlipping(event.nativeEvent, columnIds.split(',')[k])}
        >
          {text.replace(/[>()]/g, '') || '–'}
        </div>
      ))}
      {pictured && <ThumbnailCell client={client} frame={index} />}
      {outlines.map((outline) => (
        <Thread
          key={outline.id}
          outline={outline}
          poses={poses[outline.id] ?? []}
          keyed={edges[outline.id]?.some(({ frame }) => frame === source) ?? false}
          source={source}
        />
      ))}
      <CoverageBar covered={covered} tint={tint} />
      {found && (
        <span className={mark ? 'found below' : 'found'} role="img" aria-label={found} title={found}>
          <FindingIcon size={15} />
        </span>
      )}
      {mark && (
        <span className={pictured ? 'mark' : 'mark slim'} title={mark}>
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
  // Rows come and go while the sheet scrolls: none of them concerns the page's layout.
  contain: 'strict',
  display: 'grid',
  alignItems: 'center',
  padding: `0 ${gutter}px 0 8px`,
  font: `12px ${mono}`,
  cursor: 'pointer',
  borderBottom: `1px solid ${theme.palette.divider}`,
  '&.fifth': { background: theme.palette.action.hover },
  '&.selected': { boxShadow: `inset 4px 0 0 ${theme.palette.text.secondary}` },
  '&.current': {
    background: theme.palette.action.selected,
    boxShadow: `inset 4px 0 0 ${theme.palette.primary.main}`,
  },
  '& .number': { lineHeight: 1.15, display: 'grid', position: 'relative' },
  // A key of a move: a diamond beside the number, as in the lanes.
  '& .number i': {
    position: 'absolute',
    left: 30,
    top: 3,
    width: 7,
    height: 7,
    border: `1.5px solid ${theme.palette.text.primary}`,
    transform: 'rotate(45deg)',
  },
  '& .number small': { fontSize: 10, color: theme.palette.text.secondary },
  '&.current .number small': { color: 'inherit' },
  '& .source': {
    textAlign: 'right',
    cursor: 'ns-resize',
    touchAction: 'none',
    userSelect: 'none',
    lineHeight: '34px',
  },
  '& .again': { color: theme.palette.text.secondary },
  // A picture that there is, and that is not shown.
  '& .spare': {
    color: theme.palette.text.secondary,
    backgroundImage: `repeating-linear-gradient(135deg, transparent 0 5px, ${theme.palette.divider} 5px 6px)`,
  },
  // A dotted line between two frames that are no neighbours.
  '& .leaves-out': { borderTop: `2px dotted ${theme.palette.text.secondary}`, lineHeight: '30px' },
  '&.out': { color: theme.palette.text.secondary, fontStyle: 'italic' },
  '&.out canvas': { opacity: 0.35 },
  '& .mark': {
    position: 'absolute',
    right: gutter,
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
  // Where there is no room for its name beside the numbers: its flag, beside the bar.
  '& .mark.slim': { right: 0, maxWidth: 17, padding: '0 3px' },
  '& .found': {
    position: 'absolute',
    right: 2,
    top: '50%',
    transform: 'translateY(-50%)',
    display: 'flex',
    color: theme.palette.warning.main,
  },
  // The flag of a mark is above it.
  '& .found.below': { top: 'auto', bottom: 0, transform: 'none' },
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
function Thread({
  outline,
  poses,
  keyed,
  source,
}: {
  outline: OutlineRow;
  poses: readonly PoseRow[];
  keyed: boolean;
  source: number;
}) {
  const shape = shapeAt(poses, source, outline);
  const stateAt = (frame: number) => shapeAt(poses, frame, outline).state;
  const [above, below] = [
    stateAt(source - 1) !== 'empty',
    shape.state !== 'empty' && stateAt(source + 1) !== 'empty',
  ];
  const mid = rowHeight / 2;
  const own = shape.state === 'posed' ? poses.find(({ frame }) => frame === source) : undefined;
  const unsure = own?.unsure ? `, not sure: ${doubtSays[own.unsure]}` : '';
  const what = {
    empty: 'nothing cut yet',
    full: 'cut in full',
    posed: `pose ${'origin' in shape ? shape.origin : ''}`,
    'in-between': 'in-between',
  }[shape.state].concat(unsure, keyed ? ', edge keyed' : '');
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
          r={unsure ? 7 : shape.origin === 'by hand' ? 5 : 4}
          fill={shape.origin === 'by hand' ? 'currentColor' : 'none'}
          stroke="currentColor"
          strokeWidth={1.6}
          strokeDasharray={shape.origin === 'settled' ? '3 1.6' : undefined}
        />
      )}
      {unsure && <path d={`M8 ${mid - 2.6}v3.2M8 ${mid + 2}v1.4`} stroke="currentColor" strokeWidth={1.6} />}
      {keyed && <path d={`M1 ${rowHeight - 4}h14`} stroke="currentColor" strokeWidth={2.4} />}
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
    const context = canvas.current?.getContext('2d');
    if (!canvas.current || !context) return;
    if (!thumbnail) {
      context.clearRect(0, 0, canvas.current.width, canvas.current.height);
      return;
    }
    // Setting a canvas's size builds it anew, even to the size that it has.
    if (canvas.current.width !== thumbnail.width) canvas.current.width = thumbnail.width;
    if (canvas.current.height !== thumbnail.height) canvas.current.height = thumbnail.height;
    context.putImageData(new ImageData(thumbnail.rgba, thumbnail.width, thumbnail.height), 0, 0);
  });
  return (
    <canvas
      ref={canvas}
      width={96}
      height={thumbnailHeight}
      aria-hidden
      style={{
        width: '100%',
        height: 'auto',
        maxHeight: rowHeight - 2,
        objectFit: 'contain',
        display: 'block',
        background: 'rgba(128,128,128,.25)',
      }}
    />
  );
}
