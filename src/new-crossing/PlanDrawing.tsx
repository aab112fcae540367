'use client';

import { keyframes } from '@emotion/react';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import type { ReactNode } from 'react';
import type { Plan } from '@/core/model/choices';

const across = keyframes`from { transform: translateX(-56px) } 82%, to { transform: translateX(64px) }`;
const opens = keyframes`from { transform: scaleX(0.02) } 82%, to { transform: scaleX(1) }`;
const grows = keyframes`from { transform: scale(0.12) } 82%, to { transform: scale(1.1) }`;
const shrinks = keyframes`from { transform: scale(1) } 82%, to { transform: scale(0.42) }`;
const fades = keyframes`from { opacity: 1 } 70%, to { opacity: 0 }`;
const swings = keyframes`from { transform: scaleX(1) } 82%, to { transform: scaleX(0.16) }`;

/** A small moving drawing of what a plan does; still for those who ask for less movement. */
export function PlanDrawing({ plan, width = 96 }: { plan: Plan; width?: number }) {
  const theme = useTheme();
  const { outgoing, incoming, passing } = theme.kiv.role;
  const moving = (animation: ReturnType<typeof keyframes>, origin: string, children: ReactNode) => (
    <Box
      component="g"
      sx={{
        animation: `${animation} 2.6s cubic-bezier(.4,0,.3,1) infinite`,
        transformOrigin: origin,
        transformBox: 'view-box',
        '@media (prefers-reduced-motion: reduce)': { animationPlayState: 'paused', animationDelay: '-0.8s' },
      }}
    >
      {children}
    </Box>
  );
  const person = (
    <path d="M-6 40c0-16 2-20 5-22a6 6 0 1 1 8 0c4 3 6 8 6 22Z" fill="#2b2722" transform="translate(20 0)" />
  );
  const ground = (colour: string) => <rect width="64" height="36" fill={colour} fillOpacity=".55" />;
  // The incoming shot is striped in every drawing: never a colour alone.
  const striped = (x: number, y: number, width: number, height: number) => (
    <>
      <rect x={x} y={y} width={width} height={height} fill={incoming} />
      <path
        d={Array.from({ length: Math.floor(height / 6) }, (_, k) => `M${x} ${y + 3 + 6 * k}h${width}`).join(
          '',
        )}
        stroke="#fff"
        strokeOpacity=".4"
        strokeWidth="1.2"
      />
    </>
  );
  const drawings: Record<Plan, ReactNode> = {
    'pass-by': (
      <>
        {striped(0, 0, 64, 36)}
        {moving(
          across,
          '0 0',
          <>
            <rect x="18" width="120" height="36" fill={outgoing} />
            {person}
          </>,
        )}
      </>
    ),
    arrival: (
      <>
        {ground(outgoing)}
        {moving(
          across,
          '0 0',
          <>
            {striped(-110, 0, 128, 36)}
            {person}
          </>,
        )}
      </>
    ),
    bridge: (
      <>
        {ground(outgoing)}
        {moving(
          across,
          '0 0',
          <>
            {striped(-120, 0, 124, 36)}
            <rect x="4" width="22" height="36" fill={passing} />
          </>,
        )}
      </>
    ),
    opening: (
      <>
        {ground(outgoing)}
        {moving(opens, '32px 0', striped(18, 5, 28, 31))}
      </>
    ),
    'pull-back': (
      <>
        {striped(0, 0, 64, 36)}
        {moving(shrinks, '32px 18px', <rect width="64" height="36" fill={outgoing} />)}
      </>
    ),
    'hinged leaves': (
      <>
        {striped(0, 0, 64, 36)}
        {moving(swings, '14px 0', <rect x="14" y="4" width="18" height="32" fill={outgoing} />)}
        {moving(swings, '50px 0', <rect x="32" y="4" width="18" height="32" fill={outgoing} />)}
      </>
    ),
    'keyed board': (
      <>
        {ground(outgoing)}
        {moving(grows, '32px 18px', striped(12, 6, 40, 24))}
      </>
    ),
    'lingering subject': (
      <>
        {striped(0, 0, 64, 36)}
        {moving(fades, '0 0', <rect width="64" height="36" fill={outgoing} />)}
        {person}
      </>
    ),
  };
  return (
    <Box
      component="svg"
      viewBox="0 0 64 36"
      aria-hidden
      sx={{ width, height: (width * 36) / 64, display: 'block', overflow: 'hidden', borderRadius: '2px' }}
    >
      {drawings[plan]}
    </Box>
  );
}
