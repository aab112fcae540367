'use client';

import { memo, useState } from 'react';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import GlobalStyles from '@mui/material/GlobalStyles';
import TextField from '@mui/material/TextField';
import { mono } from '@/interface/theme';
import type { Shortcut } from './shortcut';
import { shortcuts } from './shortcuts';
import { hideKeys } from './useKeys';
import { type StepName, useView } from '../view/view-store';

type Group = Shortcut['group'];

const groups: readonly Group[] = ['Frames', 'Picture', 'Line up', 'Trace', 'Brush', 'Move', 'Sound', 'Edits'];
/** What is possible in a step comes first. */
const groupOfStep: Partial<Record<StepName, Group>> = {
  Shots: 'Line up',
  'Line up': 'Line up',
  Trace: 'Trace',
  Edge: 'Trace',
  Move: 'Move',
  Sound: 'Sound',
};
/** Most keys under one heading: a longer group has it once more, so that it is seen in the next column too. */
const underOneHeading = 14;

/** On paper there is only the map. */
const onPaper = (
  <GlobalStyles
    styles={{
      '@media print': {
        'body > *:not(.key-map)': { display: 'none' },
        '.key-map, .key-map .MuiDialog-container, .key-map .MuiPaper-root, .key-map .MuiDialogContent-root': {
          position: 'static',
          height: 'auto',
          maxHeight: 'none',
          overflow: 'visible',
          boxShadow: 'none',
        },
        // Small enough for two sheets of A4.
        '.key-map .MuiDialogContent-root': { zoom: 0.82 },
        '.key-map .MuiBackdrop-root, .key-map .unprinted': { display: 'none' },
      },
    }}
  />
);

/** The keys that have all words that are looked for, by group, those of the open step first. */
function sectionsOf(text: string, first: Group | undefined) {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const order = first ? [first, ...groups.filter((group) => group !== first)] : groups;
  return order.flatMap((group) => {
    const own = shortcuts.filter((shortcut) => {
      const all = `${shortcut.keys} ${shortcut.does} ${group}`.toLowerCase();
      return shortcut.group === group && words.every((word) => all.includes(word));
    });
    return Array.from({ length: Math.ceil(own.length / underOneHeading) }, (_, k) => ({
      heading: k === 0 ? group : `${group}, continued`,
      now: group === first,
      keys: own.slice(k * underOneHeading, (k + 1) * underOneHeading),
    }));
  });
}

/** Every key of the workspace on one page. */
export const KeyMap = memo(function KeyMap() {
  const shown = useView((state) => state.keysShown);
  const step = useView((state) => state.step);
  const [text, setText] = useState('');
  const sections = sectionsOf(text, step ? groupOfStep[step] : undefined);
  return (
    <Dialog
      open={shown}
      onClose={hideKeys}
      onTransitionExited={() => setText('')}
      maxWidth="lg"
      fullWidth
      aria-labelledby="key-map-title"
      className="key-map"
    >
      {onPaper}
      <DialogTitle id="key-map-title" sx={{ pb: 1, display: 'flex', alignItems: 'center', gap: 2 }}>
        <Box sx={{ flex: 1 }}>Keys</Box>
        <TextField
          className="unprinted"
          label="Search keys"
          size="small"
          type="search"
          value={text}
          autoFocus
          onChange={({ target }) => setText(target.value)}
          sx={{ width: 260 }}
        />
        <Button className="unprinted" variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
      </DialogTitle>
      <DialogContent tabIndex={0} sx={{ columns: { xs: 1, sm: 2, md: 3 }, columnGap: 4 }}>
        {sections.map(({ heading, now, keys }) => (
          <Box key={heading} sx={{ breakInside: 'avoid', mb: 2, pt: 0.25 }}>
            <Box component="h3" sx={{ m: 0, mb: 0.5, fontSize: 14 }}>
              {heading}
              {now && (
                <Box component="span" sx={{ fontWeight: 400, color: 'text.secondary' }}>
                  , the open step
                </Box>
              )}
            </Box>
            {keys.map((shortcut) => (
              <KeyRow key={shortcut.does} {...shortcut} />
            ))}
          </Box>
        ))}
        {sections.length === 0 && <Box sx={{ fontSize: 14, color: 'text.secondary' }}>No key matches.</Box>}
        <Box sx={{ fontSize: 13, color: 'text.secondary', breakInside: 'avoid' }}>
          With a tool for drawing: press for a corner, press and pull for a curve, Enter or a double press to
          finish, Backspace takes back a point or a stretch along the edge. With Edit: drag points, handles,
          the line or a box; Shift adds, Alt pulls handles out of a corner or parts them; a double press on
          the line adds a point.
        </Box>
      </DialogContent>
    </Dialog>
  );
});

function KeyRow({ keys, does }: Pick<Shortcut, 'keys' | 'does'>) {
  return (
    <Box
      sx={{
        ...{ display: 'grid', gridTemplateColumns: '126px 1fr', gap: 1, py: 0.4, alignItems: 'baseline' },
        ...{ borderBottom: 1, borderColor: 'divider' },
      }}
    >
      <Box sx={{ display: 'flex', flexWrap: 'wrap', rowGap: 0.4, columnGap: 1.25 }}>
        {/* Those that do the same stand apart; those that are pressed together do not. */}
        {keys.split(/ {2,}/).map((together) => (
          <Box key={together} sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.3 }}>
            {together.split(' ').map((key) => (
              <Cap key={key} name={key} />
            ))}
          </Box>
        ))}
      </Box>
      <Box sx={{ fontSize: 13 }}>{does}</Box>
    </Box>
  );
}

function Cap({ name }: { name: string }) {
  return (
    <Box
      component="kbd"
      sx={{
        ...{ font: `700 11.5px ${mono}`, lineHeight: '18px', px: 0.6, minWidth: 18, textAlign: 'center' },
        ...{ border: 1, borderBottomWidth: 2, borderColor: 'text.secondary', borderRadius: 0.75 },
        whiteSpace: 'nowrap',
      }}
    >
      {name}
    </Box>
  );
}
