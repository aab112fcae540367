'use client';

import Box from '@mui/material/Box';
import { type Channel, channelNumbers } from '@/core/model/channels';
import { channelAt } from '@/core/compose/moves';
import type { keysOf } from '@/core/document/keys';
import { moveId } from '@/core/document/tables';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { KeyedRow } from './KeyedRow';
import { channelWords } from './channel-words';
import { toggleMoveKey, typeMove } from './move-commands';
import { useMover } from './mover';

/** A channel's numbers on this frame, and whether it has a key there. */
export function ChannelRow({ channel, frame }: { channel: Channel; frame: number }) {
  const document = useDocument((state) => state.document)!;
  const moverId = useMover();
  const numbers = channelAt(document, moverId, channel, frame);
  const places = channel === 'exposure' ? 100 : 10;
  const shown = (k: number) => Math.round(numbers[k] * places) / places;
  return (
    <KeyedRow
      name={channelWords[channel].name.toLowerCase()}
      columns={channelNumbers[channel].length === 3 ? '1.6fr 1fr 1fr' : undefined}
      keyed={document.moves[moveId(moverId, channel, frame)] !== undefined}
      onToggle={() => toggleMoveKey(channel)}
    >
      {channelNumbers[channel].map(({ low, high }, k) => (
        <NumberField
          key={k}
          label={channelWords[channel].numbers[k][0]}
          unit={channelWords[channel].numbers[k][1]}
          value={shown(k)}
          low={low}
          high={high}
          always
          onChange={(value) => typeMove(channel, value === shown(k) ? numbers : numbers.with(k, value))}
        />
      ))}
    </KeyedRow>
  );
}

/** Whether any of these channels has a key. */
export function hasKeys(keys: ReturnType<typeof keysOf>, channels: readonly Channel[]): boolean {
  return channels.some((channel) => keys[channel] !== undefined);
}

export function Rows({ channels, frame }: { channels: readonly Channel[]; frame: number }) {
  return (
    <Box sx={{ display: 'grid', gap: 1.5, pt: 1 }}>
      {channels.map((channel) => (
        <ChannelRow key={channel} channel={channel} frame={frame} />
      ))}
    </Box>
  );
}
