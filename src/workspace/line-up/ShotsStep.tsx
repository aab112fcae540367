'use client';

import { setCrossing } from '@/core/actions/layer-actions';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { useSnackbar } from '@/interface/messages';
import { layersInOrder } from '@/core/document/document';
import { layoutOf } from '@/core/document/plans';
import type { Shot } from '@/core/model/shot';
import { call, sentenceOf } from '@/interface/api';
import { useDocument } from '../document/document-store';
import { layerInHand, swapRoles } from './lining-up';
import { useView } from '../view/view-store';
import { AddLayer, LayerList } from './LayerList';
import { LayerSettings } from './LayerSettings';
import { NumberField } from '../fields/NumberField';
import { FormatOfCrossing } from './FormatOfCrossing';
import { edit } from '../session/edit';
import { useNow } from '../session/use-now';

/** Which shots cross, how they lie over each other and in the picture, and how long the crossing is. */
export function ShotsStep() {
  const document = useDocument((state) => state.document)!;
  useView((state) => state.layerId);
  const [all, setAll] = useState<Shot[]>([]);
  const { enqueueSnackbar } = useSnackbar();
  useEffect(() => {
    call<Shot[]>('/api/shots').then(setAll, (error: unknown) =>
      enqueueSnackbar(sentenceOf(error), { variant: 'error' }),
    );
  }, [enqueueSnackbar]);
  const { crossing } = document;
  const layers = layersInOrder(document);
  const inHand = useNow(layerInHand);
  const outgoing = layers.find(({ role }) => role === 'outgoing');
  const incoming = layers.find(({ role, visible }) => role === 'incoming' && visible);

  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.5 }}>
      <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
        <b>{crossing.plan[0].toUpperCase() + crossing.plan.slice(1)}.</b> {layoutOf(crossing.plan).says}
      </Box>
      <LayerList inHand={inHand} />
      {outgoing && incoming && (
        <Button variant="outlined" onClick={() => swapRoles(outgoing, incoming)}>
          Swap outgoing and incoming
        </Button>
      )}
      {inHand && <LayerSettings key={inHand.id} layer={inHand} all={all} />}
      <AddLayer all={all} />
      <NumberField
        label="Length of the crossing"
        value={crossing.length}
        low={1}
        high={100000}
        unit="frames"
        whole
        onChange={(length) => edit('Change the length', setCrossing(document!, { length }))}
      />
      <FormatOfCrossing />
    </Box>
  );
}
