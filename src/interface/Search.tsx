'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { foundIn } from './found-in';

/** Things in a list from which on they are searched and sorted. */
const searchedFrom = 12;

/** How a list is searched and sorted. */
export interface Searched<T> {
  /** All that can be looked for in one of them. */
  textOf(each: T): string;
  /** The order in which they come, and by a name of one's own. */
  asTheyCome: string;
  nameOf(each: T): string;
}

/** A list as it is looked through: what is found, and the fields to look with where there is much of it. */
export function useSearch<T>(all: readonly T[] | null, { textOf, asTheyCome, nameOf }: Searched<T>) {
  const [text, setText] = useState('');
  const [byName, setByName] = useState(false);
  if (!all || all.length < searchedFrom) return { found: [...(all ?? [])], fields: null };
  const found = foundIn(all, text, textOf);
  if (byName) found.sort((a, b) => nameOf(a).localeCompare(nameOf(b), 'en', { numeric: true }));
  const fields = (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mb: 2 }}>
      <TextField
        label="Search"
        type="search"
        value={text}
        onChange={({ target }) => setText(target.value)}
        sx={{ width: 320 }}
      />
      <TextField
        select
        label="Sort by"
        value={byName ? 'name' : 'come'}
        onChange={({ target }) => setByName(target.value === 'name')}
        sx={{ width: 160 }}
      >
        <MenuItem value="come">{asTheyCome}</MenuItem>
        <MenuItem value="name">name</MenuItem>
      </TextField>
      <Box role="status" sx={{ fontSize: 13, color: 'text.secondary' }}>
        {text.trim() !== '' && (found.length === 0 ? 'Nothing matches.' : `${found.length} found`)}
      </Box>
    </Box>
  );
  return { found, fields };
}
