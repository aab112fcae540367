'use client';

import Box from '@mui/material/Box';
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import { useLetGo } from '@/interface/useLetGo';
import { LanePlot } from '../lanes/LanePlot';
import { setView } from '../view/view-store';
import { changePiece } from './sound-commands';

/** Handles of a straight course. */
const straight: readonly number[] = [1 / 3, 1 / 3, 2 / 3, 2 / 3];
/** px of the field's height, and of a handle. */
const height = 84;
const handle = 12;

const within = (share: number) => Math.min(1, Math.max(0, Math.round(share * 100) / 100));

/** The course from closed to open, pulled by its two handles: along is how far the way is open, up is how far the sound is. */
export function BendField({ bend }: { bend: readonly number[] }) {
  const field = useRef<HTMLDivElement>(null);
  const held = useRef<0 | 1 | null>(null);
  const [pulled, setPulled] = useState<readonly number[] | null>(null);
  const handles = pulled ?? (bend.length === 4 ? bend : straight);
  const letGo = () => {
    held.current = null;
    setPulled(null);
    setView({ draft: null });
  };
  useLetGo(() => held.current !== null, letGo);
  const take = (which: 0 | 1) => (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    held.current = which;
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const placeOf = (event: PointerEvent, which: 0 | 1) => {
    const box = field.current!.getBoundingClientRect();
    const x = within((event.clientX - box.left) / box.width);
    const y = within(1 - (event.clientY - box.top) / box.height);
    return which === 0 ? [x, y, handles[2], handles[3]] : [handles[0], handles[1], x, y];
  };
  const onMove = (event: PointerEvent) => {
    if (held.current === null) return;
    const next = placeOf(event, held.current);
    setPulled(next);
    changePiece('Course', { bend: next }, true);
  };
  const onUp = () => {
    if (held.current === null) return;
    held.current = null;
    if (pulled) changePiece('Course', { bend: pulled });
    setPulled(null);
  };
  const onKey = (which: 0 | 1) => (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const next = handles.slice();
    next[2 * which] = within(next[2 * which] + by[0] * 0.05);
    next[2 * which + 1] = within(next[2 * which + 1] + by[1] * 0.05);
    changePiece('Course', { bend: next });
  };
  const [x1, y1, x2, y2] = handles.map((share) => share * 100);
  return (
    <Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary', pb: 0.5 }}>
        How it opens: across, how far the edge has opened; up, how open the sound is
      </Box>
      <Box
        ref={field}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={letGo}
        sx={{ position: 'relative', height, mx: `${handle / 2}px`, border: 1, borderColor: 'divider' }}
      >
        <LanePlot>
          <g fill="none" stroke="currentColor" vectorEffect="non-scaling-stroke">
            <path d={`M0 100 L${x1} ${100 - y1} M100 0 L${x2} ${100 - y2}`} opacity={0.5} strokeWidth={0.8} />
            <path
              d={`M0 100 C${x1} ${100 - y1} ${x2} ${100 - y2} 100 0`}
              strokeWidth={1.8}
              vectorEffect="non-scaling-stroke"
            />
          </g>
        </LanePlot>
        {([0, 1] as const).map((which) => (
          <Box
            key={which}
            role="slider"
            tabIndex={0}
            aria-label={which === 0 ? 'How it begins to open' : 'How it ends opening'}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(handles[2 * which + 1] * 100)}
            aria-valuetext={`${Math.round(handles[2 * which] * 100)} % along, ${Math.round(handles[2 * which + 1] * 100)} % up`}
            onPointerDown={take(which)}
            onKeyDown={onKey(which)}
            sx={{
              ...{ position: 'absolute', width: handle, height: handle, cursor: 'grab', touchAction: 'none' },
              ...{ border: 2, borderColor: 'text.primary', bgcolor: 'background.paper' },
              transform: 'translate(-50%, 50%)',
            }}
            style={{ left: `${handles[2 * which] * 100}%`, bottom: `${handles[2 * which + 1] * 100}%` }}
          />
        ))}
      </Box>
    </Box>
  );
}
