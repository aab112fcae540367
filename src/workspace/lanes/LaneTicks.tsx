import Box from '@mui/material/Box';
import { roundTicks } from './round-ticks';

/** Frame numbers beneath a lane. @param length frames of the crossing. */
export function LaneTicks({ length }: { length: number }) {
  const last = Math.max(1, length - 1);
  return roundTicks(length).map((frame) => (
    <Box
      key={frame}
      aria-hidden
      sx={{
        position: 'absolute',
        top: '100%',
        transform: 'translateX(-50%)',
        fontSize: 11,
        color: 'text.secondary',
        pointerEvents: 'none',
      }}
      style={{ left: `${(100 * frame) / last}%` }}
    >
      {frame}
    </Box>
  ));
}
