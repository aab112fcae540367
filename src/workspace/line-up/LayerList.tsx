'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useSnackbar } from '@/interface/messages';
import { layersInOrder, layerTitle } from '@/core/document/document';
import { type LayerRow, plainLayer } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import { call, sentenceOf } from '@/interface/api';
import { DownIcon, EyeIcon, EyeShutIcon, SoloIcon, UpIcon } from '@/interface/icons';
import { SmallButton } from '@/interface/SmallButton';
import { RoleMark } from '@/interface/RoleMark';
import { roleName } from '@/interface/theme';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { addToStack, changeLayer, moveInStack } from './lining-up';
import { layerName } from '../session/layer-name';
import { setView, useView } from '../view/view-store';
import { useTraced } from '../session/traced';

/** The layers from the top down: what is in hand, what is to be seen, and in which order they lie. */
export function LayerList({ inHand }: { inHand: LayerRow | null }) {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const solo = useView((state) => state.solo);
  const tracedId = useTraced()?.layer.id;
  const layers = layersInOrder(document).reverse();
  return (
    <Box
      component="ul"
      aria-label="Layers"
      sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.5 }}
    >
      {layers.map((layer, k) => {
        const name = layerTitle(layer, shots.find(({ shot }) => shot.id === layer.shotId)?.shot);
        const chosen = layer.id === inHand?.id;
        return (
          <Box
            component="li"
            key={layer.id}
            sx={{
              border: 1,
              borderColor: chosen ? 'primary.main' : 'divider',
              borderRadius: 1,
              display: 'grid',
              gridTemplateColumns: '22px minmax(0, 1fr)',
              alignItems: 'center',
              columnGap: 0.5,
              pl: 0.75,
              bgcolor: layer.visible || solo === layer.id ? undefined : 'action.hover',
            }}
          >
            <RoleMark role={layer.role} />
            <Box
              component="button"
              onClick={() => setView({ layerId: layer.id })}
              aria-pressed={chosen}
              title={`${roleName[layer.role]}: ${name}`}
              sx={{
                border: 0,
                bgcolor: 'transparent',
                color: 'text.primary',
                font: 'inherit',
                fontWeight: chosen ? 700 : 400,
                textAlign: 'left',
                py: 0.75,
                px: 0.5,
                minWidth: 0,
                overflowWrap: 'break-word',
                lineHeight: 1.25,
                cursor: 'pointer',
              }}
            >
              {name}
              {layer.id === tracedId && (
                <Box component="span" sx={{ display: 'block', fontSize: 11, lineHeight: 1, fontWeight: 400 }}>
                  traced
                </Box>
              )}
            </Box>
            <Box sx={{ display: 'flex', gridColumn: '1 / -1', justifySelf: 'end' }}>
              <SmallButton
                label={layer.visible ? `Hide the ${layerName(layer)}` : `Show the ${layerName(layer)}`}
                onClick={() =>
                  changeLayer(`${layer.visible ? 'Hide' : 'Show'} the ${layerName(layer)}`, layer, {
                    visible: !layer.visible,
                  })
                }
              >
                {layer.visible ? <EyeIcon size={16} /> : <EyeShutIcon size={16} />}
              </SmallButton>
              <SmallButton
                label={solo === layer.id ? 'Show all layers' : `Show only the ${layerName(layer)}`}
                pressed={solo === layer.id}
                onClick={() => setView({ solo: solo === layer.id ? null : layer.id })}
              >
                <SoloIcon size={16} />
              </SmallButton>
              <SmallButton
                label={`Move the ${layerName(layer)} up`}
                disabled={k === 0}
                onClick={() => moveInStack(layer, 1)}
              >
                <UpIcon size={14} />
              </SmallButton>
              <SmallButton
                label={`Move the ${layerName(layer)} down`}
                disabled={k === layers.length - 1}
                onClick={() => moveInStack(layer, -1)}
              >
                <DownIcon size={14} />
              </SmallButton>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}

/** One more shot, under the others and hidden, to compare it or to use it later. */
export function AddLayer({ all }: { all: Shot[] }) {
  const document = useDocument((state) => state.document)!;
  const addShot = useDocument((state) => state.addShot);
  const { enqueueSnackbar } = useSnackbar();
  const add = async (shotId: string) => {
    try {
      const media = await call<ShotMedia>(`/api/shots/${shotId}`);
      addShot(media);
      const position = Math.max(...Object.values(document.layers).map((layer) => layer.position)) + 1;
      const row: LayerRow = {
        ...plainLayer,
        id: crypto.randomUUID(),
        role: 'incoming',
        shotId,
        position,
        visible: false,
        holdFrom: media.shot.frameCount === 1 ? 0 : null,
      };
      addToStack(row, media.shot.name);
      setView({ layerId: row.id });
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    }
  };
  return (
    <TextField
      select
      label="Add a shot (hidden at first)"
      value=""
      onChange={(event) => void add(event.target.value)}
      fullWidth
    >
      {all.map((shot) => (
        <MenuItem key={shot.id} value={shot.id}>
          {shot.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
