'use client';

import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import type { SystemStyleObject } from '@mui/system';
import { useState } from 'react';
import { MoreIcon } from './icons';

/** Something that can be done with what a card shows: a file to fetch, or an action. */
type Choice = { says: string } & ({ href: string } | { onChoose(): void });

/** What can be done with what a card shows, beside its main action. */
export function CardMenu({
  name,
  choices,
  sx,
}: {
  name: string;
  choices: readonly Choice[];
  sx?: SystemStyleObject;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <IconButton
        aria-label={`More for ${name}`}
        aria-haspopup="menu"
        title="More"
        onClick={({ currentTarget }) => setAt(currentTarget)}
        sx={sx}
      >
        <MoreIcon size={20} />
      </IconButton>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {choices.map((choice) =>
          'href' in choice ? (
            <MenuItem key={choice.says} component="a" href={choice.href} onClick={() => setAt(null)}>
              {choice.says}
            </MenuItem>
          ) : (
            <MenuItem
              key={choice.says}
              onClick={() => {
                setAt(null);
                choice.onChoose();
              }}
            >
              {choice.says}
            </MenuItem>
          ),
        )}
      </Menu>
    </>
  );
}
