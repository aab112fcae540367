'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState } from 'react';
import { mono } from '@/interface/theme';
import { checksNow } from './checks-store';
import { goTo } from '../session/go-to';
import { useDocument } from '../document/document-store';
import { useOutline } from '../session/traced';
import { setView, useView } from '../view/view-store';

/** px across the line in a strip, and px that it is drawn over along it. */
const height = 33;
const width = 900;
const rowHeight = height + 5;

interface Strip {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

/**
 * All frames as strips of picture around the line, straightened and under each other: along the line from left to
 * right, outside above, inside below. A wobble of the line shows as a wobble of the edge.
 */
export function StripSheet() {
  const inHand = useOutline();
  const frame = useView((state) => state.frame);
  const length = useDocument((state) => state.document!.crossing.length);
  const document = useDocument((state) => state.document);
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 3,
    initialOffset: Math.max(0, useView.getState().frame - 4) * rowHeight,
  });
  const outlineId = inHand?.outline.id ?? null;
  // Strips are kept for the document that they were drawn from.
  const strips = useMemo(() => new Map<number, Strip | null>(), [document, outlineId]); // eslint-disable-line react-hooks/exhaustive-deps
  return (
    <Box
      role="dialog"
      aria-label="Contact sheet of the edge"
      sx={{
        position: 'absolute',
        inset: 0,
        zIndex: 3,
        bgcolor: 'background.paper',
        display: 'flex',
        flexDirection: 'column',
      }}
    >
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 2,
          px: 2,
          py: 1,
          borderBottom: 1,
          borderColor: 'divider',
        }}
      >
        <Box sx={{ flex: 1, fontSize: 13 }}>
          <b>Contact sheet of {inHand?.outline.name ?? 'the edge'}.</b> Each row is one frame, straightened
          along the line: outside above the thin line, inside below. A wobble or a peeking background breaks
          the band. Click to go there.
        </Box>
        <Button variant="outlined" onClick={() => setView({ strips: false })} autoFocus>
          Close
        </Button>
      </Box>
      <Box ref={scroller} sx={{ flex: 1, overflowY: 'auto' }} data-testid="strips">
        <Box sx={{ position: 'relative' }} style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => (
            <Box
              key={index}
              component="button"
              aria-label={`Strip of frame ${index}`}
              aria-current={index === frame}
              onClick={() => goTo(index)}
              sx={{
                position: 'absolute',
                left: 0,
                right: 0,
                height: rowHeight,
                display: 'flex',
                alignItems: 'center',
                gap: 1,
                border: 0,
                p: 0,
                pr: 1,
                cursor: 'pointer',
                textAlign: 'right',
                color: 'text.primary',
                bgcolor: index === frame ? 'action.selected' : 'transparent',
              }}
              style={{ top: start }}
            >
              <Box sx={{ width: 44, font: `12px ${mono}`, fontWeight: index === frame ? 700 : 400 }}>
                {index}
              </Box>
              {outlineId && <StripRow outlineId={outlineId} frame={index} strips={strips} />}
            </Box>
          ))}
        </Box>
      </Box>
    </Box>
  );
}

function StripRow({
  outlineId,
  frame,
  strips,
}: {
  outlineId: string;
  frame: number;
  strips: Map<number, Strip | null>;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  /** Undefined until it is known. */
  const [strip, setStrip] = useState<Strip | null>();
  useEffect(() => {
    const known = strips.get(frame);
    setStrip(known);
    if (known !== undefined) return;
    let gone = false;
    const take = (drawn: Strip | null) => {
      strips.set(frame, drawn);
      if (!gone) setStrip(drawn);
    };
    void checksNow()
      ?.strip(outlineId, frame, width, height)
      .then(take, () => take(null));
    return () => {
      gone = true;
    };
  }, [outlineId, frame, strips]);
  useEffect(() => {
    if (strip) canvas.current?.getContext('2d')?.putImageData(new ImageData(strip.rgba, width, height), 0, 0);
  }, [strip]);
  if (strip === null)
    return <Box sx={{ fontSize: 12, color: 'text.secondary' }}>the line is not in the picture</Box>;
  return (
    <Box sx={{ position: 'relative', flex: 1, height }}>
      <canvas
        ref={canvas}
        width={width}
        height={height}
        style={{ width: '100%', height, display: 'block' }}
      />
      <Box
        sx={{
          position: 'absolute',
          left: 0,
          right: 0,
          top: '50%',
          borderTop: '1px solid rgba(255,182,46,.75)',
        }}
      />
    </Box>
  );
}
