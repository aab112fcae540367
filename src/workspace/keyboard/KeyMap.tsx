'use client';

import { memo } from 'react';
import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { mono } from '@/interface/theme';
import type { Shortcut } from './shortcut';
import { shortcuts } from './shortcuts';
import { hideKeys } from './useKeys';
import { useView } from '../view/view-store';

const groups: Shortcut['group'][] = [
  'Frames',
  'Picture',
  'Line up',
  'Trace',
  'Brush',
  'Move',
  'Sound',
  'Edits',
];

/** Every key of the workspace on one page. */
export const KeyMap = memo(function KeyMap() {
  const shown = useView((state) => state.keysShown);
  return (
    <Dialog open={shown} onClose={hideKeys} maxWidth="md" fullWidth aria-labelledby="key-map-title">
      <DialogTitle id="key-map-title" sx={{ pb: 1 }}>
        Keys
      </DialogTitle>
      <DialogContent tabIndex={0} sx={{ columns: { xs: 1, sm: 2 }, columnGap: 5 }}>
        {groups.map((group) => (
          <Box key={group} sx={{ breakInside: group === 'Trace' ? 'auto' : 'avoid', mb: 2 }}>
            <Box component="h3" sx={{ m: 0, mb: 0.5, fontSize: 14, breakAfter: 'avoid' }}>
              {group}
            </Box>
            {shortcuts
              .filter((binding) => binding.group === group)
              .map(({ keys, does }) => (
                <Box
                  key={does}
                  sx={{
                    display: 'grid',
                    gridTemplateColumns: '140px 1fr',
                    gap: 1.5,
                    py: 0.4,
                    borderBottom: 1,
                    borderColor: 'divider',
                    breakInside: 'avoid',
                  }}
                >
                  <Box sx={{ font: `700 12px ${mono}`, whiteSpace: 'nowrap' }}>{keys}</Box>
                  <Box sx={{ fontSize: 13 }}>{does}</Box>
                </Box>
              ))}
          </Box>
        ))}
        <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
          With a tool for drawing: press for a corner, press and pull for a curve, Enter or a double press to
          finish, Backspace takes back a point or a stretch along the edge. With Edit: drag points, handles,
          the line or a box; Shift adds, Alt pulls handles out of a corner or parts them; a double press on
          the line adds a point.
        </Box>
      </DialogContent>
    </Dialog>
  );
});
