'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useDeferredValue } from 'react';
import { type Channel, channelNumbers } from '@/core/model/channels';
import { keyedAt, keysOf } from '@/core/document/keys';
import { isPlaced } from '@/core/actions/piece-actions';
import { moveId, type PieceRow } from '@/core/document/tables';
import { crossfades } from '@/core/model/choices';
import { Fold } from '@/interface/Fold';
import { useSnackbar } from '@/interface/messages';
import { useDocument } from '../document/document-store';
import { SliderNumber } from '../fields/SliderNumber';
import { SwitchField } from '../fields/SwitchField';
import { ChannelRow } from '../move/ChannelRow';
import { KeyedRow } from '../move/KeyedRow';
import { runOn, toggleMoveKey } from '../move/move-commands';
import { OnwardChoice } from '../fields/OnwardChoice';
import { useView } from '../view/view-store';
import { Behind } from './Behind';
import { Making } from './Making';
import { SecondsField } from './SecondsField';
import {
  bringOut,
  changePiece,
  fitToCrossing,
  removeKeysOf,
  splitHere,
  toggleBehind,
} from './sound-commands';
import { useSound } from '../session/sound-store';

const crossfadeNames: Record<(typeof crossfades)[number], string> = {
  none: 'no crossfade',
  'goes out': 'goes out as the edge opens',
  'comes in': 'comes in as the edge opens',
};

/** What is set for the piece in hand. */
export function PieceSettings() {
  const document = useDocument((state) => state.document)!;
  const pieceId = useSound((state) => state.pieceId);
  const frame = useDeferredValue(useView((state) => state.frame));
  const { enqueueSnackbar } = useSnackbar();
  const piece = document.pieces[pieceId ?? ''];
  if (!piece) return null;
  const say = (work: () => string | null) => () => {
    const said = work();
    if (said) enqueueSnackbar(said, { variant: 'warning' });
  };
  const placed = isPlaced(piece);
  const keys = keysOf(document, piece.id);
  const keyed = Object.values(keys).reduce((sum, list) => sum + list.length, 0);
  return (
    <Box
      role="group"
      aria-label={`Settings of ${piece.name}`}
      sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25 }}
    >
      {piece.source === 'made' && <Making piece={piece} />}
      <LevelRow piece={piece} frame={frame} />
      <SliderNumber
        label="Pan"
        value={piece.pan}
        least={-100}
        most={100}
        onDraft={(pan) => changePiece('Pan', { pan }, true)}
        onChange={(pan) => changePiece('Pan', { pan })}
      />
      {placed && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
          <SecondsField
            label="Fade in"
            samples={piece.fadeIn}
            most={piece.length}
            onChange={(fadeIn) => changePiece('Fade in', { fadeIn })}
          />
          <SecondsField
            label="Fade out"
            samples={piece.fadeOut}
            most={piece.length}
            onChange={(fadeOut) => changePiece('Fade out', { fadeOut })}
          />
        </Box>
      )}
      <SwitchField
        label="Behind the edge"
        title="Low and dull while the way is closed, clear and full once it is open"
        on={piece.behind}
        onChange={toggleBehind}
      />
      {piece.behind && <Behind piece={piece} />}
      <TextField
        select
        label="Crossfade"
        value={piece.crossfade}
        onChange={({ target }) =>
          changePiece('Crossfade', { crossfade: target.value as PieceRow['crossfade'] })
        }
      >
        {crossfades.map((each) => (
          <MenuItem key={each} value={each}>
            {crossfadeNames[each]}
          </MenuItem>
        ))}
      </TextField>
      {piece.crossfade !== 'none' && (
        <SwitchField
          label="Evenly from the opening to the closing"
          on={piece.crossfadeByTime}
          onChange={(crossfadeByTime) => changePiece('Crossfade by time', { crossfadeByTime })}
        />
      )}
      <FilterKeys key={piece.id} keys={keys} frame={frame} />
      {keyed > 1 && (
        <OnwardChoice
          label="In-betweens after this key"
          value={
            Object.values(keys).flatMap((list) => list.findLast((key) => key.frame <= frame)?.row ?? [])[0]
              ?.onward ?? 'eased'
          }
          onChange={runOn}
        />
      )}
      <PieceActions placed={placed} say={say} />
    </Box>
  );
}

/** The level: for all of the piece, or where it has keys on this frame. */
function LevelRow({ piece, frame }: { piece: PieceRow; frame: number }) {
  const document = useDocument((state) => state.document)!;
  const keyed = keyedAt(document, piece.id, 'level', frame);
  if (keyed)
    return (
      <Box sx={{ display: 'grid', gap: 1.25 }}>
        <ChannelRow channel="level" frame={frame} />
        <Button variant="outlined" onClick={() => removeKeysOf('level')}>
          Remove level keys
        </Button>
      </Box>
    );
  const { low, high } = channelNumbers.level[0];
  return (
    <KeyedRow
      name="level"
      keyed={document.moves[moveId(piece.id, 'level' satisfies Channel, frame)] !== undefined}
      onToggle={() => toggleMoveKey('level')}
    >
      <SliderNumber
        label="Level"
        unit="dB"
        value={piece.level}
        least={low}
        most={high}
        onDraft={(level) => changePiece('Level', { level }, true)}
        onChange={(level) => changePiece('Level', { level })}
      />
    </KeyedRow>
  );
}

function FilterKeys({ keys, frame }: { keys: ReturnType<typeof keysOf>; frame: number }) {
  return (
    <Fold heading="Filters over time" meant={Boolean(keys['low-pass'] ?? keys['high-pass'])}>
      <Box sx={{ display: 'grid', gap: 1.25, pt: 1 }}>
        <ChannelRow channel="low-pass" frame={frame} />
        <ChannelRow channel="high-pass" frame={frame} />
        {(['low-pass', 'high-pass'] as const).map(
          (channel) =>
            keys[channel] && (
              <Button key={channel} variant="outlined" onClick={() => removeKeysOf(channel)}>
                Take the {channel} keys away
              </Button>
            ),
        )}
      </Box>
    </Fold>
  );
}

function PieceActions({
  placed,
  say,
}: {
  placed: boolean;
  /** A press that says what came of it. */
  say(action: () => string | null | void): () => void;
}) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
      {placed && (
        <Button
          variant="outlined"
          title="A sweep gets as long as the edge is in the picture, loudest where it is fastest; anything else begins with it"
          onClick={say(fitToCrossing)}
        >
          Fit to the edge
        </Button>
      )}
      {placed ? (
        <Button variant="outlined" title="Splits the piece at the frame on screen" onClick={say(splitHere)}>
          Split here
        </Button>
      ) : (
        <Button
          variant="outlined"
          title="As a piece of its own that can be moved and trimmed; it no longer goes along with the shot"
          onClick={say(bringOut)}
        >
          Detach from shot
        </Button>
      )}
    </Box>
  );
}
