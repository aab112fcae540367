'use client';

import Box from '@mui/material/Box';
import { type PointerEvent, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { useDocument } from '../document/document-store';
import { ink } from '../sight/paint';
import { type Sight, sightAt } from '../sight/sight';
import { type Camera, useView } from '../view/view-store';
import { endLine, plumbLayer, pressPlumb, usePlumb } from './plumb';

/** Screen px between two presses that end a line. */
const same = 6;

/** Lines along what should be level, upright or straight, over the picture, and the hand that draws them. */
export function PlumbLines({ camera }: { camera: Camera }) {
  const plumb = usePlumb();
  const { lines, open } = plumb;
  const document = useDocument((state) => state.document);
  const shots = useDocument((state) => state.shots);
  const { frame, view } = useView(useShallow(({ frame, view }) => ({ frame, view })));
  const [pointer, setPointer] = useState<[number, number] | null>(null);
  const on = plumbLayer(plumb, document, shots);
  if (!on) return null;
  const sight = sightAt(on, frame, camera, view === 'result');

  const placeOf = (event: PointerEvent): [number, number] => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return [event.clientX - left, event.clientY - top];
  };
  const onDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const at = placeOf(event);
    const before = open.length > 0 ? sight.place(open[open.length - 2], open[open.length - 1]) : null;
    if (before && Math.hypot(before[0] - at[0], before[1] - at[1]) < same) endLine();
    else pressPlumb(...sight.back(...at));
  };
  const openPath = pathOf(open, sight) + (pointer && open.length > 0 ? `L${pointer.join(' ')}` : '');
  return (
    <Box
      component="svg"
      aria-label="Lines along what should be straight"
      onPointerDown={onDown}
      onPointerMove={(event: PointerEvent) => setPointer(placeOf(event))}
      onPointerLeave={() => setPointer(null)}
      sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%', cursor: 'crosshair' }}
    >
      {[...lines.map((line) => pathOf(line, sight)), openPath].map((path, k) => (
        <g key={k} fill="none" strokeLinejoin="round">
          <path d={path} stroke={ink.shade} strokeWidth={4} />
          <path
            d={path}
            stroke={k === lines.length ? ink.chosen : ink.line}
            strokeWidth={1.8}
            strokeDasharray={k === lines.length ? '7 5' : undefined}
          />
        </g>
      ))}
      {[...lines, open].flatMap((line, k) =>
        Array.from({ length: line.length / 2 }, (_, i) => {
          const [x, y] = sight.place(line[2 * i], line[2 * i + 1]);
          return (
            <circle
              key={`${k} ${i}`}
              cx={x}
              cy={y}
              r={4}
              fill={ink.line}
              stroke={ink.shade}
              strokeWidth={1.4}
            />
          );
        }),
      )}
    </Box>
  );
}

function pathOf(line: readonly number[], sight: Sight): string {
  const places = Array.from({ length: line.length / 2 }, (_, i) => sight.place(line[2 * i], line[2 * i + 1]));
  return places.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x} ${y}`).join('');
}
