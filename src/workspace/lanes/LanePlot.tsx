import type { ReactNode } from 'react';

/** A lane's drawing: 0 to 100 across and down, whatever its size. */
export function LanePlot({ children }: { children: ReactNode }) {
  return (
    <svg
      width="100%"
      height="100%"
      viewBox="0 0 100 100"
      preserveAspectRatio="none"
      aria-hidden
      style={{ position: 'absolute', inset: 0, overflow: 'visible', pointerEvents: 'none' }}
    >
      {children}
    </svg>
  );
}
