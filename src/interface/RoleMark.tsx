'use client';

import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import type { Role } from '@/core/model/choices';
import { mono, roleLetter, roleName } from './theme';

/** A role's colour together with its letter. */
export function RoleMark({ role, size = 18 }: { role: Role; size?: number }) {
  const theme = useTheme();
  return (
    <Box
      component="span"
      title={roleName[role]}
      sx={{
        display: 'inline-flex',
        alignItems: 'center',
        justifyContent: 'center',
        width: size,
        height: size,
        flex: 'none',
        borderRadius: role === 'outgoing' ? '2px' : '50%',
        bgcolor: theme.kiv.role[role],
        color: 'background.paper',
        font: `700 ${Math.round(size * 0.66)}px ${mono}`,
      }}
    >
      {roleLetter[role]}
    </Box>
  );
}
