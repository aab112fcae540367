'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { memo, useDeferredValue } from 'react';
import { type Blend, blends } from '@/core/model/choices';
import { edgeAtFrame } from '@/core/document/document';
import type { EdgeSettings, OutlineRow } from '@/core/document/tables';
import { edgeAt, mostExposures, shutterAt } from '@/core/outline';
import { KeyIcon, NoKeyIcon } from '@/interface/icons';
import { SmallButton } from '@/interface/SmallButton';
import { changeOutline } from '../trace/commands';
import {
  blendIn,
  changeEdge,
  draftEdge,
  edgeNow,
  edgeOnward,
  setFactor,
  toggleEdgeKey,
} from './edge-commands';
import { sourceFrameOf, useOutline, useTraced } from '../session/traced';
import { setView, useView } from '../view/view-store';
import { MeasureEdge } from './MeasureEdge';
import { NumberField } from '../fields/NumberField';
import { OnwardChoice } from '../fields/OnwardChoice';
import { SliderNumber } from '../fields/SliderNumber';

const blendSays: Record<Blend, string> = {
  display: 'display values',
  'linear sRGB': 'linear light, sRGB curve',
  'linear BT.709': 'linear light, BT.709 curve',
};

/** Softness, growth, roundness and blur of the edge of the outline in hand. */
export function EdgeStep() {
  // Stepping comes first: the panel follows when there is time.
  return <EdgePanel frame={useDeferredValue(useView((state) => (state.playing ? null : state.frame)))} />;
}

const EdgePanel = memo(function EdgePanel({ frame }: { frame: number | null }) {
  const traced = useTraced();
  const inHand = useOutline();
  const draft = useView((state) => state.draft);
  const points = useView((state) => state.points);
  if (!inHand || !traced)
    return (
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Box sx={{ color: 'text.secondary' }}>Draw an outline first; its softness is set here.</Box>
        <Button variant="outlined" onClick={() => setView({ step: 'Trace' })}>
          Go to Trace
        </Button>
      </Box>
    );
  const { outline } = inHand;
  const source = sourceFrameOf(traced, frame ?? 0);
  const keys = traced.document.edges[outline.id] ?? [];
  const key = edgeAtFrame(traced.document, outline.id, source);
  const edge = edgeNow(draft) ?? edgeAt(outline, keys, source);
  const shutter = shutterAt(outline, edge, inHand.poses, source);
  const chosen = [...points];
  const factor = chosen.length > 0 ? (edge.factors[chosen[0]] ?? 1) : 1;

  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.5 }}>
      <Box sx={{ fontSize: 13, color: 'text.secondary', display: 'flex', alignItems: 'center' }}>
        <Box sx={{ flex: 1 }}>
          {outline.name}, in px of the shot
          {keys.length > 0 && `; ${keys.length} ${keys.length === 1 ? 'key' : 'keys'}`}
        </Box>
        <SmallButton
          label={key ? 'Remove the edge’s key on this frame' : 'Key the edge on this frame'}
          pressed={key !== null}
          onClick={toggleEdgeKey}
        >
          {key ? <KeyIcon size={16} /> : <NoKeyIcon size={16} />}
        </SmallButton>
      </Box>
      <Box role="group" aria-label="Feather" sx={{ display: 'grid', gap: 1.25 }}>
        <Box sx={{ fontSize: 13 }}>Feather</Box>
        <Width label="Feather inside" shownAs="Inside" name="featherInside" edge={edge} />
        <Width label="Feather outside" shownAs="Outside" name="featherOutside" edge={edge} />
        <SideButtons edge={edge} />
      </Box>
      <SliderNumber
        label="Spread"
        value={edge.spread}
        least={-60}
        most={60}
        low={-500}
        high={500}
        unit="px"
        onDraft={(spread) => draftEdge({ spread })}
        onChange={(spread) => changeEdge('Spread', { spread })}
      />
      <Width label="Rounding" name="roundness" edge={edge} />
      {chosen.length > 0 && (
        <NumberField
          label={`Feather at ${chosen.length === 1 ? 'the selected point' : `${chosen.length} points`}, times`}
          value={factor}
          low={0}
          high={10}
          onChange={setFactor}
        />
      )}
      {keys.length > 1 && (
        <OnwardChoice
          label="In-betweens after this key"
          value={keys.findLast((each) => each.frame <= source)?.onward ?? 'linear'}
          onChange={edgeOnward}
        />
      )}
      <BlurFields outline={outline} shutter={shutter} />
      <TextField
        select
        label="Blend soft edges in"
        value={traced.document.crossing.blend}
        onChange={(event) => blendIn(event.target.value as Blend)}
      >
        {blends.map((blend) => (
          <MenuItem key={blend} value={blend}>
            {blendSays[blend]}
          </MenuItem>
        ))}
      </TextField>
      <MeasureEdge frame={frame} outlineId={outline.id} poseCount={inHand.poses.length} />
    </Box>
  );
});

function Width({
  label,
  shownAs,
  name,
  edge,
}: {
  label: string;
  shownAs?: string;
  name: 'featherInside' | 'featherOutside' | 'roundness';
  edge: EdgeSettings;
}) {
  return (
    <SliderNumber
      label={label}
      shownAs={shownAs}
      value={edge[name]}
      most={200}
      high={500}
      unit="px"
      curved
      onDraft={(value) => draftEdge({ [name]: value })}
      onChange={(value) => changeEdge(label, { [name]: value })}
    />
  );
}

/** Puts the softness to one side of the line, or evenly about it. */
function SideButtons({ edge }: { edge: EdgeSettings }) {
  return (
    <Box sx={{ display: 'flex', gap: 0.75 }}>
      {(['Inside', 'Both', 'Outside'] as const).map((side) => (
        <Button
          key={side}
          fullWidth
          title={`Puts all of the softness ${side === 'Both' ? 'evenly about the line' : `to the ${side.toLowerCase()}`}`}
          onClick={() => {
            const all = edge.featherInside + edge.featherOutside;
            const inside = side === 'Inside' ? all : side === 'Both' ? all / 2 : 0;
            changeEdge('Feather', { featherInside: inside, featherOutside: all - inside });
          }}
        >
          {side}
        </Button>
      ))}
    </Box>
  );
}

/** Motion blur of the matte. */
function BlurFields({ outline, shutter }: { outline: OutlineRow; shutter: ReturnType<typeof shutterAt> }) {
  return (
    <Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <NumberField
          label="Blur, shutter"
          value={outline.shutter}
          low={0}
          high={720}
          unit="°"
          onChange={(open) => changeOutline('Shutter', { shutter: open, phase: -open / 2 })}
        />
        <NumberField
          label="Shutter start"
          value={outline.phase}
          low={-720}
          high={720}
          unit="°"
          onChange={(phase) => changeOutline('Shutter start', { phase })}
        />
      </Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 0.5 }}>
        {outline.shutter === 0
          ? 'Off. 180° blurs the matte as most cameras blur what moves.'
          : shutter
            ? `${shutter.moments.length} moments, ${shutter.step.toFixed(1)} px apart${shutter.moments.length === mostExposures ? ', the most there are' : ''}.`
            : 'The outline does not move on this frame.'}
      </Box>
    </Box>
  );
}
