'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import LinearProgress from '@mui/material/LinearProgress';
import type { Partner } from '@/core/checks/partners';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia } from '@/wire/answers';
import { mostTried } from './useTriedShots';
import { measureShots, stopMeasuring, useMotion } from './motion-store';

/** Footage by how well it would fit, each ticked where it is tried; what is not measured yet can be. */
export function OtherShotList({
  ordered,
  partners,
  chosen,
  beside,
  footage,
  onMeasured,
  onTick,
}: {
  ordered: readonly ShotMedia[];
  partners: readonly Partner[];
  chosen: readonly string[];
  /** The shot that stays: nothing can be ranked before it is measured. */
  beside: Shot | null;
  footage: readonly ShotMedia[];
  onMeasured(shot: Shot): void;
  onTick(shotId: string, on: boolean): void;
}) {
  const { measuring, failure } = useMotion();
  const wants = ({ frameCount, motion }: Shot) => frameCount > 1 && !motion;
  const full = chosen.length >= mostTried;
  const wanting = [...(beside ? [beside] : []), ...ordered.map(({ shot }) => shot)].filter(wants);
  const saysOf = ({ id, frameCount }: Shot) =>
    partners.find(({ shot }) => shot.id === id)?.says ??
    (frameCount < 2 ? 'A still' : 'How it moves is not measured');
  if (ordered.length === 0)
    return <Box sx={{ fontSize: 13 }}>There is no other footage. Bring some in on the Footage page.</Box>;
  return (
    <>
      <Box
        component="ul"
        aria-label="Shots by how well they fit"
        sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', maxHeight: 420, overflow: 'auto' }}
      >
        {ordered.map(({ shot }) => {
          const on = chosen.includes(shot.id);
          const barred = full && !on;
          return (
            <Box
              component="li"
              key={shot.id}
              sx={{ borderTop: 1, borderColor: 'divider', py: 0.5 }}
              title={barred ? 'Four pictures at most: untick another first.' : undefined}
            >
              <Box
                component="label"
                sx={{ display: 'flex', alignItems: 'flex-start', gap: 0.5, opacity: barred ? 0.6 : 1 }}
              >
                <Checkbox
                  size="small"
                  sx={{ p: 0.25 }}
                  checked={on}
                  disabled={barred}
                  onChange={(_, ticked) => onTick(shot.id, ticked)}
                />
                <Box sx={{ minWidth: 0 }}>
                  <Box sx={{ fontSize: 13.5, fontWeight: 700, overflowWrap: 'anywhere' }}>{shot.name}</Box>
                  <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>{saysOf(shot)}</Box>
                </Box>
              </Box>
            </Box>
          );
        })}
      </Box>
      {failure && <Box sx={{ fontSize: 13 }}>{failure}</Box>}
      {wanting.length > 0 && !measuring && (
        <Button
          variant="outlined"
          onClick={() =>
            void measureShots(
              wanting.map(({ id }) => id),
              footage,
              onMeasured,
            )
          }
        >
          Measure {wanting.length === 1 ? 'one shot' : `${wanting.length} shots`}
        </Button>
      )}
      {measuring && (
        <Box role="status" sx={{ display: 'grid', gap: 0.5, fontSize: 13 }}>
          Measuring “{footage.find(({ shot }) => shot.id === measuring.shotId)?.shot.name ?? 'a shot'}”…
          <LinearProgress variant="determinate" value={100 * measuring.share} aria-label="Measuring" />
          <Button variant="outlined" onClick={stopMeasuring}>
            Stop measuring
          </Button>
        </Box>
      )}
    </>
  );
}
