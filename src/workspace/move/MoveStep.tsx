'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ListSubheader from '@mui/material/ListSubheader';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { memo, type ReactNode, useDeferredValue } from 'react';
import { softAbove } from '@/core/checks/move-checks';
import { shownScale } from '@/core/compose/placement';
import { layersInOrder, layerTitle } from '@/core/document/document';
import type { LayerRow, OutlineRow } from '@/core/document/tables';
import { type ChannelGroup, cornerChannels, placementChannels } from '@/core/model/channels';
import { layerAt, movedAt } from '@/core/compose/moves';
import { keysOf } from '@/core/document/keys';
import { BackIcon, ForwardIcon } from '@/interface/icons';
import { Fold } from '@/interface/Fold';
import { SmallButton } from '@/interface/SmallButton';
import { roleName } from '@/interface/theme';
import { useDocument } from '../document/document-store';
import { OnwardChoice } from '../fields/OnwardChoice';
import { setView, useView } from '../view/view-store';
import { BlurKeys } from './BlurKeys';
import { ChannelRow, hasKeys, Rows } from './ChannelRow';
import { ColourKeys } from './ColourKeys';
import { Leaves, LeafSettings } from './Leaves';
import { Following } from './Following';
import { goToMoveKey, rest, runOn } from './move-commands';
import { useMover } from './mover';
import { rampedLayer } from './ramp-commands';
import { SpeedKeys } from './SpeedKeys';
import { stretchOf, WorkedOut } from './WorkedOut';
import { useNow } from '../session/use-now';

/** What is moved, as the panel shows it on a frame. */
interface ShownMover {
  id: string;
  layer: LayerRow | undefined;
  leaf: OutlineRow | undefined;
  keys: ReturnType<typeof keysOf>;
  at: number;
}

/** Where each group of keyed values is set; a new group does not compile until it has its place. */
const parts: Record<ChannelGroup, (mover: ShownMover) => ReactNode> = {
  placement: ({ leaf, at }) =>
    !leaf && placementChannels.map((channel) => <ChannelRow key={channel} channel={channel} frame={at} />),
  opacity: ({ layer, at }) => layer && <ChannelRow channel="opacity" frame={at} />,
  corners: ({ id, layer, keys, at }) =>
    layer && (
      <Fold key={`corners ${id}`} heading="Corners, px of the shot" meant={hasKeys(keys, cornerChannels)}>
        <Rows channels={cornerChannels} frame={at} />
      </Fold>
    ),
  blur: ({ id, leaf, keys, at }) => !leaf && <BlurKeys key={`blur ${id}`} keys={keys} frame={at} />,
  grade: ({ id, layer, keys, at }) =>
    layer && <ColourKeys key={`colour ${id}`} layer={layer} keys={keys} frame={at} />,
  leaf: ({ leaf, at }) => leaf && <LeafSettings leaf={leaf} frame={at} />,
  // In step Sound, for each piece.
  sound: () => null,
};

/** How layers and the whole picture move: a value changed on a frame is a key there. */
export function MoveStep() {
  // Stepping comes first: the panel follows when there is time.
  const frame = useDeferredValue(useView((state) => (state.playing ? null : state.frame)));
  return <MovePanel frame={frame} />;
}

const MovePanel = memo(function MovePanel({ frame }: { frame: number | null }) {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const selected = useView((state) => state.moveKeys);
  const layers = layersInOrder(document).reverse();
  const wholeId = document.crossing.id;
  const moverId = useMover();
  const layer = document.layers[moverId];
  const forAll = useNow(rampedLayer);
  const leaf: OutlineRow | undefined = document.outlines[moverId];
  const leaves = Object.values(document.outlines).filter(({ hinge }) => hinge !== null);
  const at = frame ?? 0;
  const moved = movedAt(document, moverId, at);
  const keys = keysOf(document, moverId);
  const mover: ShownMover = { id: moverId, layer, leaf, keys, at };
  const count = Object.values(keys).reduce((sum, list) => sum + list.length, 0);
  const shot = layer && shots.find((media) => media.shot.id === layer.shotId)?.shot;
  const shown = shot ? shownScale(document.crossing, layerAt(document, layer, at), shot) : moved.size;
  const last =
    selected.size > 0
      ? document.moves[[...selected][0]]
      : Object.values(keys).flatMap((list) => list.findLast((key) => key.frame <= at)?.row ?? [])[0];
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
            {roleName[each.role]}:{' '}
            {layerTitle(each, shots.find(({ shot: { id } }) => id === each.shotId)?.shot)}
          </MenuItem>
        ))}
        <MenuItem value={wholeId}>The whole picture</MenuItem>
        {leaves.length > 0 && <ListSubheader>Leaves that swing</ListSubheader>}
        {leaves.map(({ id, name }) => (
          <MenuItem key={id} value={id}>
            Leaf: {name}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ fontSize: 13, color: 'text.secondary', display: 'flex', alignItems: 'center' }}>
        <Box sx={{ flex: 1 }}>
          {count === 0
            ? 'No keys yet: changing a value here keys this frame'
            : `${count} ${count === 1 ? 'key' : 'keys'}`}
        </Box>
        <SmallButton label="Go to the key before" disabled={count === 0} onClick={() => goToMoveKey(-1)}>
          <BackIcon size={16} />
        </SmallButton>
        <SmallButton label="Go to the next key" disabled={count === 0} onClick={() => goToMoveKey(1)}>
          <ForwardIcon size={16} />
        </SmallButton>
      </Box>
      {parts.leaf(mover)}
      {parts.placement(mover)}
      {parts.opacity(mover)}
      {layer && (
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          Shown at {Math.round(shown)} % of its own pixels
        </Box>
      )}
      {layer && shown > softAbove && (
        <Alert severity="warning" sx={{ py: 0, fontSize: 12 }}>
          Over {softAbove} % the picture looks soft when it rests.
        </Alert>
      )}
      {layer && <Following key={`follow ${layer.id}`} layer={layer} />}
      {layer && <SpeedKeys layer={layer} all={null} frame={at} />}
      {moverId === wholeId && forAll && <SpeedKeys layer={forAll} all={layers} frame={at} />}
      {parts.blur(mover)}
      {parts.grade(mover)}
      {parts.corners(mover)}
      {layer && <Leaves layer={layer} frame={at} />}
      {count > 1 && (
        <OnwardChoice
          label={selected.size > 0 ? 'In-betweens after the selected keys' : 'In-betweens after this key'}
          value={last?.onward ?? 'eased'}
          onChange={runOn}
        />
      )}
      {count > 0 && (
        <Button variant="outlined" title="Removes every key of what is chosen above" onClick={rest}>
          Remove all keys
        </Button>
      )}
      {!leaf && (
        <WorkedOut key={document.crossing.length} single={layer !== undefined} range={stretchOf(document)} />
      )}
    </Box>
  );
});
