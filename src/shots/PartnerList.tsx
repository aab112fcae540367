import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { Partner } from '@/core/checks/partners';

/** Shots by how well they would fit, the best first, each with its reason; one can be taken. */
export function PartnerList({
  partners,
  isTaken,
  onTake,
}: {
  partners: readonly Partner[];
  isTaken(partner: Partner): boolean;
  onTake(partner: Partner): void;
}) {
  return (
    <Box
      component="ol"
      aria-label="Shots by how well they fit"
      sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 0.75, maxHeight: 260, overflow: 'auto' }}
    >
      {partners.map((partner) => (
        <Box
          component="li"
          key={partner.shot.id}
          sx={{
            display: 'flex',
            alignItems: 'center',
            gap: 1,
            borderTop: 1,
            borderColor: 'divider',
            pt: 0.75,
          }}
        >
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Box sx={{ fontSize: 13.5, fontWeight: 700, overflowWrap: 'anywhere' }}>{partner.shot.name}</Box>
            <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>{partner.says}</Box>
          </Box>
          {isTaken(partner) ? (
            <Box sx={{ fontSize: 12.5 }}>Taken</Box>
          ) : (
            <Button
              size="small"
              variant="outlined"
              aria-label={`Take ${partner.shot.name}`}
              onClick={() => onTake(partner)}
            >
              Take
            </Button>
          )}
        </Box>
      ))}
    </Box>
  );
}
