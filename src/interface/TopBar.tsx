'use client';

import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { usePathname } from 'next/navigation';
import type { ReactNode } from 'react';
import { LampIcon } from './icons';
import { PageLink } from './PageLink';
import { useRoom } from './Providers';

const places = [
  { href: '/', label: 'Shelf' },
  { href: '/footage', label: 'Footage' },
  { href: '/exports', label: 'Exports' },
];

/** The bar on top of every page: where one is, what belongs to the page, and the room's light. */
export function TopBar({ children }: { children?: ReactNode }) {
  const pathname = usePathname();
  const { room, setRoom } = useRoom();
  return (
    <Box
      component="header"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        px: 2,
        height: 44,
        flex: 'none',
        borderBottom: 1,
        borderColor: 'divider',
        bgcolor: 'background.paper',
      }}
    >
      <Box
        component={PageLink}
        href="/"
        aria-label="Kiv, to the shelf"
        sx={{ display: 'flex', color: 'text.primary', textDecoration: 'none', fontWeight: 700, fontSize: 19 }}
      >
        Kiv
      </Box>
      <Box component="nav" aria-label="Places" sx={{ display: 'flex', gap: 0.5 }}>
        {places.map(({ href, label }) => (
          <Box
            key={href}
            component={PageLink}
            href={href}
            aria-current={pathname === href ? 'page' : undefined}
            sx={{
              px: 1,
              py: 0.5,
              color: 'text.primary',
              textDecoration: 'none',
              borderBottom: 2,
              borderColor: pathname === href ? 'primary.main' : 'transparent',
              '&:hover': { borderColor: 'divider' },
            }}
          >
            {label}
          </Box>
        ))}
      </Box>
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', alignItems: 'center', gap: 1 }}>{children}</Box>
      <Tooltip title={room === 'paper' ? 'Dim the room' : 'Back to paper'}>
        <IconButton
          size="small"
          aria-label={room === 'paper' ? 'Dim the room' : 'Back to paper'}
          onClick={() => setRoom(room === 'paper' ? 'dim' : 'paper')}
        >
          <LampIcon />
        </IconButton>
      </Tooltip>
    </Box>
  );
}
