'use client';

import Box from '@mui/material/Box';
import { useEffect, useRef } from 'react';
import { mono } from '@/interface/theme';
import { useView } from '../view/view-store';
import { soundReading } from './sound-client';
import { useSound } from '../session/sound-store';

/** dB at the meter's left end. */
const lowest = -48;
const share = (decibels: number) => Math.min(1, Math.max(0, 1 - decibels / lowest));

const tenth = (value: number) => (Number.isFinite(value) ? value.toFixed(1).replace('-', '−') : '−∞');

/** How loud it is now, and all that is played. */
export function LoudnessRow() {
  const loudness = useSound((state) => state.loudness);
  const skew = useSound((state) => state.skew);
  return (
    <Box
      role="group"
      aria-label="Loudness"
      data-sound-skew={skew?.high}
      data-sound-skew-most={skew?.most}
      sx={{ display: 'grid', gap: 0.5, fontSize: 12 }}
    >
      <Meters />
      <Box sx={{ color: 'text.secondary', minHeight: 34 }}>
        {loudness ? (
          <>
            In all <b>{tenth(loudness.integrated)} LUFS</b>, true peak <b>{tenth(loudness.peak)} dBTP</b>
            {loudness.highest > -1 && '; the sum is limited: turn something down'}
          </>
        ) : (
          'Loudness is being measured…'
        )}
      </Box>
    </Box>
  );
}

/** Peaks of both sides and momentary loudness, drawn without rendering anew. */
function Meters() {
  const playing = useView((state) => state.playing);
  const bars = useRef<(HTMLDivElement | null)[]>([]);
  const said = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!playing) return;
    let handle = 0;
    const held = [lowest, lowest];
    const draw = () => {
      const reading = soundReading();
      [0, 1].forEach((side) => {
        // Peaks fall back by 20 dB a second.
        held[side] = Math.max(lowest, held[side] - 20 / 60, reading?.peaks[side] ?? lowest);
        const bar = bars.current[side];
        if (bar) bar.style.transform = `scaleX(${share(held[side])})`;
      });
      if (said.current) said.current.textContent = `${tenth(reading?.momentary ?? -Infinity)} LUFS`;
      handle = requestAnimationFrame(draw);
    };
    handle = requestAnimationFrame(draw);
    const drawn = bars.current;
    return () => {
      cancelAnimationFrame(handle);
      drawn.forEach((bar) => bar && (bar.style.transform = 'scaleX(0)'));
    };
  }, [playing]);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
      <Box sx={{ flex: 1, display: 'grid', gap: '3px' }} aria-hidden>
        {[0, 1].map((side) => (
          <Box key={side} sx={{ height: 6, bgcolor: 'action.hover', border: 1, borderColor: 'divider' }}>
            <Box
              ref={(element: HTMLDivElement | null) => {
                bars.current[side] = element;
              }}
              sx={{
                ...{ height: '100%', width: '100%', transformOrigin: 'left', transform: 'scaleX(0)' },
                bgcolor: 'primary.main',
              }}
            />
          </Box>
        ))}
      </Box>
      <Box ref={said} component="span" sx={{ font: `12px ${mono}`, minWidth: 78, textAlign: 'right' }}>
        −∞ LUFS
      </Box>
    </Box>
  );
}
