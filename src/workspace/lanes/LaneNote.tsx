import Box from '@mui/material/Box';

/** What a lane without keys says, in its middle. */
export function LaneNote({ children }: { children: string }) {
  return (
    <Box
      sx={{
        ...{ position: 'absolute', inset: 0, display: 'grid', placeItems: 'center' },
        ...{ fontSize: 12, color: 'text.secondary', pointerEvents: 'none' },
      }}
    >
      <Box component="span" sx={{ bgcolor: 'background.paper', px: 1 }}>
        {children}
      </Box>
    </Box>
  );
}
