'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useSnackbar } from '@/interface/messages';
import { shownScale } from '@/core/compose/placement';
import { layerTitle } from '@/core/document/document';
import type { LayerRow } from '@/core/document/tables';
import type { Fit, Role } from '@/core/model/choices';
import type { Shot } from '@/core/model/shot';
import { limits } from '@/core/model/limits';
import { NameInput } from '@/interface/NameInput';
import { call, sentenceOf } from '@/interface/api';
import { roleName } from '@/interface/theme';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { changeLayer, nameLayer, replaceShot, takeFromStack, traceHere } from './lining-up';
import { layerName } from '../session/layer-name';
import { DuplicateLayer } from './DuplicateLayer';
import { OtherShots } from './OtherShots';
import { Straighten } from './Straighten';
import { NumberField } from '../fields/NumberField';
import { useTraced } from '../session/traced';

const fits: { fit: Fit; label: string; says: string }[] = [
  { fit: 'fill', label: 'Fill', says: 'Fills the frame; what is over is cut off' },
  { fit: 'fit', label: 'Fit', says: 'Whole within the frame' },
  { fit: 'exact', label: 'Exact', says: 'Pixel for pixel' },
];

/** One layer's shot, role and place in the picture. */
export function LayerSettings({ layer, all }: { layer: LayerRow; all: Shot[] }) {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const addShot = useDocument((state) => state.addShot);
  const { enqueueSnackbar } = useSnackbar();
  const traced = useTraced()?.layer.id === layer.id;
  const shot = shots.find((media) => media.shot.id === layer.shotId)?.shot;
  // A shot that was deleted is in no list any more, and is still the layer's.
  const choices = shot && !all.some(({ id }) => id === shot.id) ? [shot, ...all] : all;
  const isDeleted = (id: string) => shots.some((media) => media.shot.id === id && media.deleted);
  const name = layerName(layer);
  const set = (label: string, settings: Partial<LayerRow>) =>
    changeLayer(`${label} the ${name}`, layer, settings);
  const replace = async (shotId: string) => {
    try {
      const media = await call<ShotMedia>(`/api/shots/${shotId}`);
      addShot(media);
      const warning = replaceShot(layer, media.shot);
      if (warning) enqueueSnackbar(warning, { variant: 'warning', autoHideDuration: 12_000 });
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    }
  };
  const shown = shot ? shownScale(document.crossing, layer, shot) : 100;

  return (
    <Box
      sx={{
        ...{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25 },
        ...{ borderTop: 1, borderColor: 'divider', pt: 1.5 },
      }}
    >
      <TextField
        select
        label="Shot"
        value={layer.shotId}
        onChange={(event) => void replace(event.target.value)}
        fullWidth
      >
        {choices.map((choice) => (
          <MenuItem key={choice.id} value={choice.id}>
            {choice.name}
            {isDeleted(choice.id) && ' (deleted)'}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 13 }}>
        <Box sx={{ color: 'text.secondary', whiteSpace: 'nowrap' }}>Layer name</Box>
        <NameInput
          value={layerTitle(layer, shot)}
          label="Layer name"
          most={limits.name}
          empty
          onName={(next) => nameLayer(layer, next)}
          sx={{ flex: 1, border: 1, borderColor: 'divider', borderRadius: 1, px: 1, py: 0.5 }}
        />
      </Box>
      <OtherShots layer={layer} />
      <RoleFields layer={layer} set={set} />
      <FitFields layer={layer} set={set} />
      <PlaceFields layer={layer} set={set} />
      <Straighten key={layer.id} layer={layer} />
      <DuplicateLayer layer={layer} />
      {shot && (
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          {shot.width} × {shot.height} px, shown at {shown.toFixed(shown % 1 === 0 ? 0 : 1)} %
        </Box>
      )}
      {shown > 100.5 && (
        <Alert severity="warning" sx={{ py: 0, fontSize: 12 }}>
          Over 100 %: the picture is enlarged and gets softer.
        </Alert>
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Button variant="outlined" disabled={traced} onClick={() => traceHere(layer)}>
          {traced ? 'Traced here' : 'Trace on it'}
        </Button>
        <Button
          variant="outlined"
          color="error"
          onClick={() => {
            const refusal = takeFromStack(layer);
            if (refusal) enqueueSnackbar(refusal);
          }}
        >
          Remove layer
        </Button>
      </Box>
    </Box>
  );
}

function PlaceFields({
  layer,
  set,
}: {
  layer: LayerRow;
  set(label: string, settings: Partial<LayerRow>): void;
}) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
      <NumberField
        label="Scale"
        value={layer.scale}
        low={1}
        high={2000}
        unit="%"
        onChange={(scale) => set('Scale', { scale })}
      />
      <NumberField
        label="Turn"
        value={layer.turn}
        low={-360}
        high={360}
        unit="°"
        onChange={(turn) => set('Turn', { turn })}
      />
      <NumberField
        label="Across"
        value={layer.x}
        low={-20000}
        high={20000}
        unit="px"
        onChange={(x) => set('Move', { x })}
      />
      <NumberField
        label="Down"
        value={layer.y}
        low={-20000}
        high={20000}
        unit="px"
        onChange={(y) => set('Move', { y })}
      />
    </Box>
  );
}

function FitFields({
  layer,
  set,
}: {
  layer: LayerRow;
  set(label: string, settings: Partial<LayerRow>): void;
}) {
  return (
    <Box sx={{ display: 'flex', gap: 1 }}>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={layer.fit}
        aria-label="Size in the frame"
        onChange={(_event, fit: Fit | null) => fit && set('Resize', { fit })}
      >
        {fits.map(({ fit, label, says }) => (
          <ToggleButton key={fit} value={fit} title={says} sx={{ py: 0.3, px: 1.1 }}>
            {label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <ToggleButton
        size="small"
        value="flip"
        selected={layer.flip}
        onChange={() => set('Mirror', { flip: !layer.flip })}
        title="Mirror left to right"
        sx={{ py: 0.3, px: 1.1, flex: 1 }}
      >
        Mirror
      </ToggleButton>
    </Box>
  );
}

function RoleFields({
  layer,
  set,
}: {
  layer: LayerRow;
  set(label: string, settings: Partial<LayerRow>): void;
}) {
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <TextField
        select
        label="Role"
        value={layer.role}
        onChange={(event) =>
          changeLayer(`Make it the ${layerName({ name: null, role: event.target.value as Role })}`, layer, {
            role: event.target.value as Role,
          })
        }
      >
        {(Object.keys(roleName) as Role[]).map((role) => (
          <MenuItem key={role} value={role}>
            {roleName[role]}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Outlines"
        value={layer.keeps ? 'keep' : 'cut'}
        onChange={(event) => set('Change what outlines do to', { keeps: event.target.value === 'keep' })}
      >
        <MenuItem value="cut">cut away</MenuItem>
        <MenuItem value="keep">keep</MenuItem>
      </TextField>
    </Box>
  );
}
