'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { toTour } from '@/workspace/tour/tour-at-once';

/** Where the browser keeps that somebody has been greeted. */
const greetedKey = 'kiv greeted';

/** The first words that somebody new reads, with the two ways in; gone once one of them, or neither, was taken. */
export function Greeting({ demoId, onOwn }: { demoId: string | null; onOwn(): void }) {
  const router = useRouter();
  const [shown, setShown] = useState(false);
  useEffect(() => {
    try {
      setShown(window.localStorage.getItem(greetedKey) === null);
    } catch {
      // A browser that lets nothing be kept greets nobody.
    }
  }, []);
  if (!shown) return null;
  const greeted = () => {
    setShown(false);
    try {
      window.localStorage.setItem(greetedKey, 'yes');
    } catch {
      // Greeted again at the next visit.
    }
  };
  return (
    <Box
      component="section"
      aria-label="Welcome"
      sx={{
        ...{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 2, mb: 2.5, p: 2 },
        ...{
          border: 1,
          borderLeft: 4,
          borderColor: 'divider',
          borderLeftColor: 'primary.main',
          borderRadius: 1,
        },
        bgcolor: 'background.paper',
      }}
    >
      <Box sx={{ flex: '1 1 380px' }}>
        <Box sx={{ fontWeight: 700, fontSize: 17 }}>Wipe from one shot to another behind a moving edge</Box>
        <Box sx={{ color: 'text.secondary', fontSize: 14 }}>
          Trace what passes on one frame; Kiv follows it through the others. Point at a card below to see it
          play.
        </Box>
      </Box>
      {demoId && (
        <Button
          variant="contained"
          onClick={() => {
            greeted();
            router.push(`/crossings/${demoId}${toTour}`);
          }}
        >
          Try it on the demo
        </Button>
      )}
      <Button
        variant="outlined"
        onClick={() => {
          greeted();
          onOwn();
        }}
      >
        Use my footage
      </Button>
      <Button onClick={greeted}>Not now</Button>
    </Box>
  );
}
