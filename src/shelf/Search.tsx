'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { CrossingListing } from '@/wire/answers';

/** Crossings from which on they are searched and sorted. */
export const searchedFrom = 12;

type Order = 'changed' | 'name';

/** What is looked for on the shelf, and in which order it lies there. */
export function useSearch() {
  const [text, setText] = useState('');
  const [order, setOrder] = useState<Order>('changed');
  return { text, setText, order, setOrder };
}

type SearchState = ReturnType<typeof useSearch>;

/** The crossings whose names, plans or shots have all words that are looked for. @param crossings the last changed first. */
export function found(
  crossings: readonly CrossingListing[],
  { text, order }: Pick<SearchState, 'text' | 'order'>,
) {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const those = crossings.filter(({ name, plan, layers }) => {
    const all = [name, plan, ...layers.map(({ shotName }) => shotName)].join(' ').toLowerCase();
    return words.every((word) => all.includes(word));
  });
  return order === 'name'
    ? those.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))
    : those;
}

export function Search({
  text,
  setText,
  order,
  setOrder,
  found: count,
}: SearchState & {
  /** How many are found. */
  found: number;
}) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mb: 2 }}>
      <TextField
        label="Search"
        size="small"
        type="search"
        value={text}
        onChange={({ target }) => setText(target.value)}
        sx={{ width: 320 }}
      />
      <TextField
        select
        label="Sort by"
        size="small"
        value={order}
        onChange={({ target }) => setOrder(target.value as Order)}
        sx={{ width: 160 }}
      >
        <MenuItem value="changed">last changed</MenuItem>
        <MenuItem value="name">name</MenuItem>
      </TextField>
      <Box role="status" sx={{ fontSize: 13, color: 'text.secondary' }}>
        {text.trim() !== '' && (count === 0 ? 'Nothing has these words.' : `${count} found`)}
      </Box>
    </Box>
  );
}
