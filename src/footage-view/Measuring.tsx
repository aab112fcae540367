import Box from '@mui/material/Box';
import type { ShotListing } from '@/wire/answers';
import { useMeasuring } from '@/shots/useMeasuring';

/** Says which footage is being measured in the background; nothing while none is. */
export function Measuring({ shots, onMeasured }: { shots: readonly ShotListing[]; onMeasured(): void }) {
  const shot = useMeasuring(shots, onMeasured);
  return (
    shot && (
      <Box role="status" sx={{ fontSize: 13, color: 'text.secondary' }}>
        Measuring how “{shot.name}” moves, while nothing else is done here…
      </Box>
    )
  );
}
