'use client';

import { type CSSProperties, useEffect, useRef } from 'react';

/** Pixels as an element; until there are any a field that breathes, to say that they are coming. */
export function RawPicture({
  width,
  height,
  rgba,
  label,
  style,
}: {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer> | null;
  label: string;
  style?: CSSProperties;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (rgba) canvas.current?.getContext('2d')?.putImageData(new ImageData(rgba, width, height), 0, 0);
  }, [rgba, width, height]);
  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      role="img"
      aria-label={label}
      aria-busy={!rgba}
      className={rgba ? undefined : 'kiv-coming'}
      style={{ display: 'block', ...style }}
    />
  );
}
