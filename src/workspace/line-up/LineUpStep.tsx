'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useSnackbar } from '@/interface/messages';
import { layersInOrder, layerTitle, playedRange } from '@/core/document/document';
import { handlesOf, shownRange } from '@/core/compose/source-frames';
import type { LayerRow } from '@/core/document/tables';
import { offsetShowing, sourceFrameAt } from '@/core/time/time-map';
import { formatRate } from '@/core/time/rate';
import { RoleMark } from '@/interface/RoleMark';
import { useDocument } from '../document/document-store';
import {
  changeLayer,
  clearRange,
  extendAll,
  freezeEnd,
  layerInHand,
  setRangeHere,
  setSpeed,
  shotIn,
  slip,
  toggleFreeze,
  trimHere,
  trimToTake,
} from './lining-up';
import { layerName } from '../session/layer-name';
import { setView } from '../view/view-store';
import { Betweens } from './Betweens';
import { Belonging } from './Belonging';
import { Marks } from './Marks';
import { NumberField } from '../fields/NumberField';
import { Proposal } from './Proposal';
import { useNow } from '../session/use-now';

/** Where each shot lies in time, where the crossing begins and ends, and whether the shots belong together. */
export function LineUpStep() {
  const document = useDocument((state) => state.document)!;
  const { enqueueSnackbar } = useSnackbar();
  const layers = layersInOrder(document).reverse();
  const shots = useDocument((state) => state.shots);
  const layer = useNow(layerInHand);
  const say = (refusal: string | null) => refusal && enqueueSnackbar(refusal);
  const [first, last] = playedRange(document);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25 }}>
      <Heading>Opening and closing</Heading>
      <Proposal />
      <Marks />
      <Heading>Timing</Heading>
      {layers.length > 1 && (
        <ToggleButtonGroup
          exclusive
          size="small"
          value={layer?.id ?? null}
          aria-label="Shot in hand"
          onChange={(_event, id: string | null) => id && setView({ layerId: id })}
        >
          {layers.map((each) => (
            <ToggleButton
              key={each.id}
              value={each.id}
              title={layerTitle(each, shotIn(shots, each))}
              aria-label={`Take ${layerTitle(each, shotIn(shots, each))} in hand`}
              sx={{ py: 0.4, px: 1 }}
            >
              <RoleMark role={each.role} />
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      {layer && <TimeOf key={layer.id} layer={layer} />}
      <Heading>The crossing</Heading>
      <Box sx={{ fontSize: 13 }}>
        Plays frames <b>{first}</b> to <b>{last}</b>, {last - first + 1} of {document.crossing.length}.
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Button variant="outlined" onClick={() => say(setRangeHere('in'))} title="[">
          Set in
        </Button>
        <Button variant="outlined" onClick={() => say(setRangeHere('out'))} title="]">
          Set out
        </Button>
        <Button
          variant="outlined"
          onClick={clearRange}
          sx={{ gridColumn: '1 / -1' }}
          disabled={last - first + 1 === document.crossing.length}
        >
          Play all
        </Button>
      </Box>
      <Heading>Do the shots belong together?</Heading>
      <Belonging />
    </Box>
  );
}

function Heading({ children }: { children: React.ReactNode }) {
  return (
    <Box component="h3" sx={{ m: 0, mt: 0.75, fontSize: 13, fontWeight: 700 }}>
      {children}
    </Box>
  );
}

/** Slip, speed, freeze and trim of one layer. */
function TimeOf({ layer }: { layer: LayerRow }) {
  const { enqueueSnackbar } = useSnackbar();
  const shots = useDocument((state) => state.shots);
  const shot = shotIn(shots, layer);
  const document = useDocument((state) => state.document)!;
  const { rateNum, rateDen } = document.crossing;
  const say = (refusal: string | null) => refusal && enqueueSnackbar(refusal);
  if (!shot) return null;
  const [first, last] = shownRange(layer, shot);
  const handles = shot.frameCount > 1 ? handlesOf(document, layer, shot) : null;
  const otherRate = shot.rate.num * rateDen !== rateNum * shot.rate.den;
  const crossingRate = { num: rateNum, den: rateDen };
  return (
    <>
      <Box sx={{ fontSize: 13 }}>
        <b>{layerTitle(layer, shot)}</b>: frames {first} to {last}
        {handles && handles.some((count) => count > 0) && (
          <>
            ; handles {handles[0]} before and {handles[1]} after what the crossing shows
          </>
        )}
        {otherRate && `, ${formatRate(shot.rate)} fps shown at ${formatRate(crossingRate)}`}
        {shot.frameTimes &&
          '. Its frames come unevenly: each is shown at its own time, some twice (=), some not at all (dotted line in the sheet).'}
      </Box>
      <NumberField
        label="Shot frame at crossing frame 0"
        value={sourceFrameAt(0, { ...layer, holdFrom: null }, crossingRate, shot)}
        low={-100000}
        high={100000}
        whole
        onChange={(source) =>
          changeLayer(`Slip the ${layerName(layer)}`, layer, { offset: offsetShowing(source, layer, shot) })
        }
      />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 0.5 }}>
        {[-10, -1, 1, 10].map((by) => (
          <Button
            key={by}
            variant="outlined"
            onClick={() => say(slip(by))}
            title={by > 0 ? 'Later (Alt ↓)' : 'Earlier (Alt ↑)'}
            sx={{ minWidth: 0 }}
          >
            {by > 0 ? `+${by}` : `−${-by}`}
          </Button>
        ))}
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, alignItems: 'start' }}>
        <NumberField
          label="Speed"
          value={layer.speed}
          low={25}
          high={800}
          unit="%"
          onChange={(speed) => setSpeed(layer, { speed })}
        />
        <ToggleButton
          size="small"
          value="reverse"
          selected={layer.reverse}
          onChange={() => setSpeed(layer, { reverse: !layer.reverse })}
          sx={{ height: 37 }}
        >
          Backwards
        </ToggleButton>
      </Box>
      <Betweens layer={layer} />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Button variant="outlined" onClick={() => say(toggleFreeze(layer))}>
          {layer.holdFrom === null ? 'Freeze from here' : `Unfreeze (${layer.holdFrom})`}
        </Button>
        <Button variant="outlined" disabled={layer.holdFrom !== null} onClick={() => freezeEnd(layer)}>
          Freeze last frame
        </Button>
        <Button variant="outlined" onClick={() => say(trimHere('start'))} title="{">
          Trim start here
        </Button>
        <Button variant="outlined" onClick={() => say(trimHere('end'))} title="}">
          Trim end here
        </Button>
      </Box>
      {(shot.motion?.cuts?.length ?? 0) > 0 && (
        <Button
          variant="outlined"
          title="Keeps the take on screen only: the frames between two cuts in the footage"
          onClick={() => say(trimToTake(layer))}
        >
          Trim to this take
        </Button>
      )}
      {(layer.trimIn !== null || layer.trimOut !== null) && (
        <Button onClick={() => extendAll(layer)}>Remove trims</Button>
      )}
    </>
  );
}
