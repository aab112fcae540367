'use client';

import Box from '@mui/material/Box';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { type OutlineRow } from '@/core/document/tables';
import { type Combine, outlineColours } from '@/core/model/choices';
import { EyeIcon, EyeShutIcon, LockIcon, LoopIcon, MoreIcon, SeamIcon, UnlockIcon } from '@/interface/icons';
import { useSnackbar } from '@/interface/messages';
import { NameInput } from '@/interface/NameInput';
import { SmallButton } from '@/interface/SmallButton';
import { changeOutline, deleteOutlineInHand } from './commands';
import {
  combineAs,
  copyOutline,
  duplicate,
  joinWith,
  mirror,
  moveOutline,
  pasteOutline,
  reverse,
  split,
} from './outline-commands';
import { outlineInk } from '../sight/paint';
import { useOutline, useTraced } from '../session/traced';
import { setView } from '../view/view-store';

const combines: Record<Combine, string> = {
  add: 'adds to what is cut',
  'take away': 'takes away from it',
  'keep only': 'keeps only what lies in both',
};

/** The outlines of the traced shot, in the order in which they combine. */
export function OutlineList() {
  const traced = useTraced();
  const inHand = useOutline();
  const [menu, setMenu] = useState<{ anchor: HTMLElement; outline: OutlineRow } | null>(null);
  if (!traced) return null;
  // The one in hand keeps its selected points.
  const take = (outline: OutlineRow) =>
    outline.id !== inHand?.outline.id && setView({ outlineId: outline.id, points: new Set() });
  // How an outline joins others matters once there are others, a keyed colour or a matte before it.
  const severalCut =
    traced.outlines.length > 1 ||
    traced.document.chromas[traced.layer.id] !== undefined ||
    traced.layer.matteId !== null ||
    inHand?.outline.combine !== 'add';
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.5 }}>
      {traced.outlines.map((outline) => (
        <OutlineItem
          key={outline.id}
          outline={outline}
          own={outline.id === inHand?.outline.id}
          severalCut={severalCut}
          onTake={() => take(outline)}
          onMenu={(anchor) => setMenu({ anchor, outline })}
        />
      ))}
      {menu && <OutlineMenu {...menu} outlines={traced.outlines} onClose={() => setMenu(null)} />}
    </Box>
  );
}

/** One outline: its name, and whether its line is shown and can be moved. */
function OutlineItem({
  outline,
  own,
  severalCut,
  onTake,
  onMenu,
}: {
  outline: OutlineRow;
  /** Whether it is the one in hand. */
  own: boolean;
  /** Whether it matters how it joins others. */
  severalCut: boolean;
  onTake(): void;
  onMenu(anchor: HTMLElement): void;
}) {
  return (
    <Box sx={{ border: 1, borderColor: own ? 'primary.main' : 'divider', borderRadius: 1, pl: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        {outline.kind === 'seam' ? <SeamIcon size={18} /> : <LoopIcon size={18} />}
        <NameInput
          value={outline.name}
          label={`Name of ${outline.name}`}
          onFocus={onTake}
          onName={(name) => changeOutline('Rename', { name })}
          sx={{ flex: 1, outline: 0, py: 0.75 }}
        />
        <SmallButton
          label={outline.hidden ? `Show the line of ${outline.name}` : `Hide the line of ${outline.name}`}
          onClick={() => {
            onTake();
            changeOutline(outline.hidden ? 'Show the line' : 'Hide the line', {
              hidden: !outline.hidden,
            });
          }}
        >
          {outline.hidden ? <EyeShutIcon size={16} /> : <EyeIcon size={16} />}
        </SmallButton>
        <SmallButton
          label={outline.locked ? `Unlock ${outline.name}` : `Lock ${outline.name}`}
          pressed={outline.locked}
          onClick={() => {
            onTake();
            changeOutline(outline.locked ? 'Unlock' : 'Lock', { locked: !outline.locked });
          }}
        >
          {outline.locked ? <LockIcon size={16} /> : <UnlockIcon size={16} />}
        </SmallButton>
        <SmallButton
          label={`More for ${outline.name}`}
          onClick={({ currentTarget }) => {
            onTake();
            onMenu(currentTarget);
          }}
        >
          <MoreIcon size={16} />
        </SmallButton>
      </Box>
      {own && severalCut && <CombineFields outline={outline} />}
    </Box>
  );
}

/** How an outline joins those above it, and the colour that tells it from them. */
function CombineFields({ outline }: { outline: OutlineRow }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr)',
        gap: 0.75,
        pt: 0.5,
        pb: 1,
        pr: 1,
      }}
    >
      <TextField
        select
        value={outline.combine}
        label="Combine with outlines above"
        fullWidth
        disabled={outline.locked}
        onChange={(event) => combineAs(outline.id, event.target.value as Combine)}
      >
        {Object.entries(combines).map(([value, says]) => (
          <MenuItem key={value} value={value}>
            {says}
          </MenuItem>
        ))}
      </TextField>
      <Box role="radiogroup" aria-label="Colour of the line" sx={{ display: 'flex', gap: '4px' }}>
        {outlineColours.map((colour) => (
          <Box
            key={colour}
            component="button"
            role="radio"
            aria-checked={outline.colour === colour}
            aria-label={colour}
            title={colour}
            onClick={() => changeOutline('Colour', { colour })}
            sx={{
              flex: 1,
              height: 14,
              p: 0,
              cursor: 'pointer',
              border: outline.colour === colour ? 2 : 1,
              borderColor: outline.colour === colour ? 'text.primary' : 'text.secondary',
              bgcolor: outlineInk[colour],
            }}
          />
        ))}
      </Box>
    </Box>
  );
}

function OutlineMenu({
  anchor,
  outline,
  outlines,
  onClose,
}: {
  anchor: HTMLElement;
  outline: OutlineRow;
  outlines: readonly OutlineRow[];
  onClose(): void;
}) {
  const { enqueueSnackbar } = useSnackbar();
  const run = (action: () => string | null | void) => () => {
    onClose();
    const refusal = action();
    if (refusal) enqueueSnackbar(refusal);
  };
  const others = outlines.filter(({ id, kind }) => kind === 'seam' && id !== outline.id);
  return (
    <Menu anchorEl={anchor} open={true} onClose={() => onClose()}>
      <MenuItem onClick={run(duplicate)}>Duplicate</MenuItem>
      <MenuItem onClick={run(copyOutline)}>Copy for other crossings</MenuItem>
      <MenuItem onClick={run(pasteOutline)}>Paste outline</MenuItem>
      <MenuItem onClick={run(mirror)}>Mirror left to right</MenuItem>
      <MenuItem onClick={run(reverse)}>Reverse its direction</MenuItem>
      <MenuItem onClick={run(split)}>
        {outline.kind === 'loop' ? 'Split between two points' : 'Split at the selected point'}
      </MenuItem>
      <MenuItem onClick={run(() => moveOutline(-1))} disabled={outlines[0]?.id === outline.id}>
        Move up
      </MenuItem>
      <MenuItem
        onClick={run(() => moveOutline(1))}
        disabled={outlines[outlines.length - 1]?.id === outline.id}
      >
        Move down
      </MenuItem>
      {outline.kind === 'seam' && others.length > 0 && <ListSubheader>Join with</ListSubheader>}
      {outline.kind === 'seam' &&
        others.map((other) => (
          <MenuItem key={other.id} onClick={run(() => joinWith(other.id))}>
            {other.name}
          </MenuItem>
        ))}
      <MenuItem
        onClick={run(() => {
          const { name } = outline;
          deleteOutlineInHand();
          return `${name} is removed. Ctrl Z brings it back.`;
        })}
      >
        Remove with its poses
      </MenuItem>
    </Menu>
  );
}
