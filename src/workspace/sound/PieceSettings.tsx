'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useDeferredValue } from 'react';
import { type Channel, channelNumbers } from '@/core/document/channels';
import { keyedAt, keysOf } from '@/core/document/keys';
import { isPlaced } from '@/core/document/piece-actions';
import { crossfades, moveId, mostMade, type PieceRow } from '@/core/document/rows';
import { makerNames } from '@/core/sound/maker-names';
import { mixRate } from '@/core/sound/stereo';
import { Fold } from '@/interface/Fold';
import { useSnackbar } from '@/interface/messages';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { SliderNumber } from '../fields/SliderNumber';
import { SwitchField } from '../fields/SwitchField';
import { ChannelRow } from '../move/ChannelRow';
import { KeyedRow } from '../move/KeyedRow';
import { runOn, toggleMoveKey } from '../move/move-commands';
import { OnwardChoice } from '../trace/OnwardChoice';
import { useView } from '../view-store';
import { BendField } from './BendField';
import {
  bringOut,
  changeMaking,
  changePiece,
  fitToCrossing,
  nameOf,
  removeKeysOf,
  splitHere,
  toggleBehind,
} from './sound-commands';
import { useSound } from './sound-store';

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
        label="Left to right"
        value={piece.pan}
        least={-100}
        most={100}
        onDraft={(pan) => changePiece('Left to right', { pan }, true)}
        onChange={(pan) => changePiece('Left to right', { pan })}
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
      <Fold key={piece.id} heading="Filters over time" meant={Boolean(keys['low-pass'] ?? keys['high-pass'])}>
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
      {keyed > 1 && (
        <OnwardChoice
          label="Way on from the keys at this frame"
          value={
            Object.values(keys).flatMap((list) => list.findLast((key) => key.frame <= frame)?.row ?? [])[0]
              ?.onward ?? 'eased'
          }
          onChange={runOn}
        />
      )}
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
          <Button variant="outlined" title="In two, at the frame on screen" onClick={say(splitHere)}>
            Split here
          </Button>
        ) : (
          <Button
            variant="outlined"
            title="As a piece of its own that can be moved and trimmed; it no longer goes along with the shot"
            onClick={say(bringOut)}
          >
            Bring it out
          </Button>
        )}
      </Box>
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
          Take the level’s keys away
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

function SecondsField({
  label,
  samples,
  most,
  onChange,
}: {
  label: string;
  samples: number;
  most: number;
  onChange(samples: number): void;
}) {
  return (
    <NumberField
      label={label}
      unit="s"
      value={Math.round((samples / mixRate) * 1000) / 1000}
      low={0}
      high={Math.floor((most / mixRate) * 1000) / 1000}
      onChange={(seconds) => onChange(Math.min(most, Math.round(seconds * mixRate)))}
    />
  );
}

/** How a piece sounds while the way is closed, and how it opens. */
function Behind({ piece }: { piece: PieceRow }) {
  return (
    <Box sx={{ display: 'grid', gap: 1.25 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <NumberField
          label="Closed, by"
          unit="dB"
          value={piece.closedLevel}
          low={-60}
          high={0}
          onChange={(closedLevel) => changePiece('Level while closed', { closedLevel })}
        />
        <NumberField
          label="Closed, up to"
          unit="Hz"
          value={Math.round(piece.closedLowPass)}
          low={20}
          high={20_000}
          onChange={(closedLowPass) => changePiece('Low-pass while closed', { closedLowPass })}
        />
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <NumberField
          label="Ring of the wall"
          unit="%"
          value={piece.ring}
          low={0}
          high={100}
          onChange={(ring) => changePiece('Ring of the wall', { ring })}
        />
        <Button
          variant="outlined"
          disabled={piece.bend.length === 0}
          title="A straight course again"
          onClick={() => changePiece('Course', { bend: [] })}
        >
          Straight
        </Button>
      </Box>
      <BendField bend={piece.bend} />
    </Box>
  );
}

/** What a made sound is made from. */
function Making({ piece }: { piece: PieceRow }) {
  return (
    <Box sx={{ display: 'grid', gap: 1.25 }}>
      <TextField
        select
        label="Made"
        value={piece.maker}
        onChange={({ target }) => {
          const maker = target.value as PieceRow['maker'];
          changeMaking('Sound', { maker, name: nameOf(maker) });
        }}
      >
        {makerNames.map((maker) => (
          <MenuItem key={maker} value={maker}>
            {nameOf(maker)}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <SecondsField
          label="Length"
          samples={piece.madeLength}
          most={mostMade}
          onChange={(madeLength) =>
            changeMaking('Length', { madeLength: Math.max(mixRate / 100, madeLength) })
          }
        />
        <NumberField
          label="Height"
          unit="oct"
          value={piece.height}
          low={-2}
          high={2}
          onChange={(height) => changeMaking('Height', { height })}
        />
        <NumberField
          label="Brightness"
          unit="%"
          value={piece.brightness}
          low={0}
          high={100}
          onChange={(brightness) => changeMaking('Brightness', { brightness })}
        />
        {piece.maker === 'air sweep' ? (
          <NumberField
            label="Loudest at"
            unit="%"
            value={piece.loudestAt}
            low={0}
            high={100}
            onChange={(loudestAt) => changeMaking('Loudest moment', { loudestAt })}
          />
        ) : (
          <Box />
        )}
      </Box>
      <Button
        variant="outlined"
        title="The same settings, by another chance"
        onClick={() => changeMaking('Another sound', { seed: (piece.seed * 7 + 13) % 1_000_000 })}
      >
        Another one like it
      </Button>
    </Box>
  );
}
