'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { memo, type ReactNode, useDeferredValue, useState } from 'react';
import { shownScale } from '@/core/compose/placement';
import { layersInOrder, playedRange } from '@/core/document/document';
import { channelBounds } from '@/core/document/move-actions';
import { type Channel, type LayerRow, moveId } from '@/core/document/rows';
import { rampBounds, rampPercentAt } from '@/core/time/ramp';
import { keysOf, layerAt, movedAt, restOf, wholeAtRest } from '@/core/compose/moves';
import { BackIcon, ForwardIcon, KeyIcon, NoKeyIcon } from '@/interface/icons';
import { useSnackbar } from '@/interface/messages';
import { SmallButton } from '@/interface/SmallButton';
import { roleName } from '@/interface/theme';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { OnwardChoice } from '../trace/OnwardChoice';
import { useTraced } from '../trace/traced';
import { setView, useView } from '../view-store';
import { changeRamp, changeSpeedHere, noRamp, rampKeys, readyRamp, toggleSpeedKey } from './ramp-commands';
import {
  changeMove,
  channelNames,
  fadeBetween,
  fadeOneByOne,
  goToMoveKey,
  push,
  rest,
  runOn,
  toggleMoveKey,
} from './move-commands';

/** Above this, in percent of its own pixels, an enlarged picture is said to look soft (common practice, no source). */
const mostShown = 150;

/** How layers and the whole picture move: a value changed on a frame is a key there. */
export function MoveStep() {
  // Stepping comes first: the panel follows when there is time.
  const frame = useDeferredValue(useView((state) => (state.playing ? null : state.frame)));
  return <MovePanel frame={frame} />;
}

const MovePanel = memo(function MovePanel({ frame }: { frame: number | null }) {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const traced = useTraced();
  const chosen = useView((state) => state.moverId);
  const selected = useView((state) => state.moveKeys);
  const layers = layersInOrder(document).reverse();
  const wholeId = document.crossing.id;
  const moverId =
    chosen && (chosen === wholeId || document.layers[chosen])
      ? chosen
      : (traced?.layer.id ?? layers[0]?.id ?? wholeId);
  const layer = document.layers[moverId];
  const at = frame ?? 0;
  const moved = movedAt(document, moverId, at, layer ? restOf(layer) : wholeAtRest);
  const keys = keysOf(document, moverId);
  const count = Object.values(keys).reduce((sum, list) => sum + list.length, 0);
  const ramped = layer ?? null;
  const shot = layer && shots.find((media) => media.shot.id === layer.shotId)?.shot;
  const shown = shot ? shownScale(document.crossing, layerAt(document, layer, at), shot) : moved.size;
  const last =
    selected.size > 0
      ? document.moves[[...selected][0]]
      : Object.values(keys).flatMap((list) => list.findLast((key) => key.frame <= at)?.row ?? [])[0];
  const rounded = (value: number) => Math.round(value * 10) / 10;
  const number = (
    label: string,
    value: number,
    channel: Channel,
    unit: string | undefined,
    onChange: (value: number) => void,
  ) => (
    <NumberField
      label={label}
      value={rounded(value)}
      low={channelBounds[channel][0]}
      high={channelBounds[channel][1]}
      unit={unit}
      onChange={onChange}
    />
  );
  const row = (channel: Channel, fields: ReactNode) => {
    const keyed = document.moves[moveId(moverId, channel, at)] !== undefined;
    const name = channelNames[channel].toLowerCase();
    return (
      <Box key={channel} sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
        <Box sx={{ flex: 1, display: 'grid', gridAutoFlow: 'column', gridAutoColumns: '1fr', gap: 0.75 }}>
          {fields}
        </Box>
        <SmallButton
          label={keyed ? `Remove the ${name}’s key on this frame` : `Key the ${name} on this frame`}
          pressed={keyed}
          onClick={() => toggleMoveKey(channel)}
        >
          {keyed ? <KeyIcon size={16} /> : <NoKeyIcon size={16} />}
        </SmallButton>
      </Box>
    );
  };
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.5, pt: 0.75 }}>
      <TextField
        select
        label="What moves"
        value={moverId}
        onChange={(event) => setView({ moverId: event.target.value, moveKeys: new Set() })}
      >
        {layers.map((each) => (
          <MenuItem key={each.id} value={each.id}>
            {roleName[each.role]}
            {shots.find((media) => media.shot.id === each.shotId) &&
              `: ${shots.find((media) => media.shot.id === each.shotId)!.shot.name}`}
          </MenuItem>
        ))}
        <MenuItem value={wholeId}>The whole picture</MenuItem>
      </TextField>
      <Box sx={{ fontSize: 13, color: 'text.secondary', display: 'flex', alignItems: 'center' }}>
        <Box sx={{ flex: 1 }}>
          {count === 0
            ? 'At rest: a value changed here is a key on this frame'
            : `${count} ${count === 1 ? 'key' : 'keys'}`}
        </Box>
        <SmallButton label="Go to the key before" disabled={count === 0} onClick={() => goToMoveKey(-1)}>
          <BackIcon size={16} />
        </SmallButton>
        <SmallButton label="Go to the next key" disabled={count === 0} onClick={() => goToMoveKey(1)}>
          <ForwardIcon size={16} />
        </SmallButton>
      </Box>
      {row(
        'place',
        <>
          {number('Across, px', moved.x, 'place', undefined, (x) => changeMove({ x }))}
          {number('Down, px', moved.y, 'place', undefined, (y) => changeMove({ y }))}
        </>,
      )}
      {row(
        'size',
        number('Size', moved.size, 'size', '%', (size) => changeMove({ size })),
      )}
      {row(
        'turn',
        number('Turn', moved.turn, 'turn', '°', (turn) => changeMove({ turn })),
      )}
      {layer &&
        row(
          'opacity',
          number('Opacity', moved.opacity, 'opacity', '%', (opacity) => changeMove({ opacity })),
        )}
      {layer && (
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          Shown at {Math.round(shown)} % of its own pixels
        </Box>
      )}
      {layer && shown > mostShown && (
        <Alert severity="warning" sx={{ py: 0, fontSize: 12 }}>
          Over {mostShown} % the picture looks soft when it rests.
        </Alert>
      )}
      {ramped && <Speed layer={ramped} frame={at} />}
      {count > 1 && (
        <OnwardChoice
          label={selected.size > 0 ? 'Way on from the selected keys' : 'Way on from the keys at this frame'}
          value={last?.onward ?? 'eased'}
          onChange={runOn}
        />
      )}
      {count > 0 && (
        <Button variant="outlined" title="Takes all keys of what moves away" onClick={rest}>
          Put at rest
        </Button>
      )}
      <Stretch key={document.crossing.length} single={layer !== undefined} range={stretchOf(document)} />
    </Box>
  );
});

/** A layer's speed by keys. */
function Speed({ layer, frame }: { layer: LayerRow; frame: number }) {
  const keyed = rampKeys(layer).some((key) => key.frame === frame);
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
        <NumberField
          label={layer.speed === 100 ? 'Speed' : `Speed, of its ${layer.speed} %`}
          value={Math.round(rampPercentAt(layer.ramp, frame) * 10) / 10}
          low={rampBounds[0]}
          high={rampBounds[1]}
          unit="%"
          onChange={changeSpeedHere}
        />
        <SmallButton
          label={keyed ? 'Remove the speed’s key on this frame' : 'Key the speed on this frame'}
          pressed={keyed}
          onClick={toggleSpeedKey}
        >
          {keyed ? <KeyIcon size={16} /> : <NoKeyIcon size={16} />}
        </SmallButton>
      </Box>
      {layer.ramp.length > 0 && (
        <>
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
            <NumberField
              label="Corners, frames"
              value={layer.rampRound}
              low={0}
              high={200}
              whole
              onChange={(rampRound) => changeRamp('Round the ramp of', { rampRound })}
            />
            <NumberField
              label="Stays on frame"
              value={layer.rampAt}
              low={0}
              high={100_000}
              whole
              onChange={(rampAt) => changeRamp('Hold a frame of the ramp of', { rampAt })}
            />
          </Box>
          <Button variant="outlined" title="The layer runs at its own speed again" onClick={noRamp}>
            Take the ramp off
          </Button>
        </>
      )}
    </Box>
  );
}

/** Where a move most likely lies: from the opening mark to the end of what is played. */
function stretchOf(document: Parameters<typeof playedRange>[0]): [from: number, to: number] {
  const [first, last] = playedRange(document);
  const opens = Object.values(document.marks).find(({ kind }) => kind === 'opens');
  const from = Math.min(last - 1, Math.max(first, opens?.frame ?? first));
  return [Math.max(first, from), last];
}

/** Moves that are worked out: over a stretch of frames. */
function Stretch({ single, range }: { single: boolean; range: [number, number] }) {
  const { enqueueSnackbar } = useSnackbar();
  const [from, setFrom] = useState(range[0]);
  const [to, setTo] = useState(range[1]);
  const [along, setAlong] = useState(0);
  const [all, setAll] = useState(false);
  const length = useDocument((state) => state.document!.crossing.length);
  const say = (refusal: string | null) =>
    refusal && enqueueSnackbar(refusal, { variant: 'warning', autoHideDuration: 8000 });
  const go = async (back: boolean) => say(await push({ all, from, to, back, along: along / 100 }));
  return (
    <Box sx={{ display: 'grid', gap: 1.25, borderTop: 1, borderColor: 'divider', pt: 1.5 }}>
      <Box sx={{ fontWeight: 700, fontSize: 13 }}>Worked out, over frames</Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <NumberField label="From" value={from} low={0} high={length - 1} whole onChange={setFrom} />
        <NumberField label="To" value={to} low={0} high={length - 1} whole onChange={setTo} />
      </Box>
      <TextField
        select
        label="The push moves"
        value={all ? 'all' : 'traced'}
        onChange={(event) => setAll(event.target.value === 'all')}
      >
        <MenuItem value="traced">the traced shot</MenuItem>
        <MenuItem value="all">the whole picture</MenuItem>
      </TextField>
      {!all && (
        <NumberField
          label="Shots beneath go along"
          value={along}
          low={0}
          high={100}
          unit="%"
          onChange={setAlong}
        />
      )}
      <Button
        variant="outlined"
        title="Enlarges until the frame lies within the opening of the traced shot, as it is on the last of these frames"
        onClick={() => void go(false)}
      >
        Push in through the opening
      </Button>
      <Button
        variant="outlined"
        title="Starts within the opening of the traced shot, as it is on the first of these frames, and comes to rest"
        onClick={() => void go(true)}
      >
        Pull back out of it
      </Button>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Button variant="outlined" disabled={!single} onClick={() => say(fadeBetween(from, to, 'in'))}>
          Fade in
        </Button>
        <Button variant="outlined" disabled={!single} onClick={() => say(fadeBetween(from, to, 'out'))}>
          Fade out
        </Button>
      </Box>
      <Button
        variant="outlined"
        disabled={!single}
        title="The shot beneath, of the same footage, fades over 20 frames; as it has gone, the traced subject does"
        onClick={() => say(fadeOneByOne(from))}
      >
        Background first, then subject
      </Button>
      <Button
        variant="outlined"
        disabled={!single}
        title="From its own speed to 340 % and back, with rounded corners"
        onClick={() => say(readyRamp(from, to))}
      >
        Ramp the speed
      </Button>
    </Box>
  );
}
