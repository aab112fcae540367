'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useEffect, useState } from 'react';
import { layersInOrder, piecesInOrder } from '@/core/document/document';
import type { PieceRow } from '@/core/document/tables';
import { makerNames } from '@/core/model/maker-names';
import { sentenceOf } from '@/interface/api';
import { DeleteIcon, HeardIcon, MutedIcon, SoloIcon } from '@/interface/icons';
import { useSnackbar } from '@/interface/messages';
import { NameInput } from '@/interface/NameInput';
import { SmallButton } from '@/interface/SmallButton';
import { useDocument } from '../document/document-store';
import { layerName } from '../session/layer-name';
import { SwitchField } from '../fields/SwitchField';
import { setView, useView } from '../view/view-store';
import { BringInSound } from './BringInSound';
import { LoudnessRow } from './LoudnessRow';
import { PieceSettings } from './PieceSettings';
import { wakeSound } from './sound-client';
import {
  addLayerSound,
  addMade,
  changePiece,
  crossfadeShots,
  nameOf,
  removePieceInHand,
  takePiece,
  toggleAlone,
  toggleMuted,
  toggleStepsHeard,
} from './sound-commands';
import { readSounds, setSound, useSound } from '../session/sound-store';

/** Sound: brought in, made, or a shot's own; placed, shaped by the opening, and measured. */
export function SoundStep() {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const failure = useSound((state) => state.failure);
  const stepsHeard = useSound((state) => state.stepsHeard);
  const { enqueueSnackbar } = useSnackbar();
  useEffect(() => {
    wakeSound();
    const { lane } = useView.getState();
    if (lane === 'covered') setView({ lane: 'sound' });
    readSounds().catch((error: unknown) => setSound({ failure: sentenceOf(error) }));
    return () => {
      if (useView.getState().lane === 'sound') setView({ lane: 'covered' });
    };
  }, []);
  const pieces = piecesInOrder(document);
  const own = layersInOrder(document)
    .reverse()
    .filter((layer) => shots.find(({ shot }) => shot.id === layer.shotId)?.hasSound);
  const silent = own.filter(
    ({ id }) => !pieces.some(({ source, sourceId }) => source === 'layer' && sourceId === id),
  );
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25, pt: 0.75 }}>
      {failure && (
        <Alert severity="warning" sx={{ py: 0, fontSize: 12 }} onClose={() => setSound({ failure: null })}>
          {failure}
        </Alert>
      )}
      <BringInSound />
      <MadeSounds />
      {silent.map((layer) => (
        <Button
          key={layer.id}
          variant="outlined"
          title="It runs as the shot’s pictures do: slipped, trimmed, faster and slower; its pitch goes along"
          onClick={() => addLayerSound(layer)}
        >
          Hear the {layerName(layer)}
        </Button>
      ))}
      {own.length > 0 && (
        <Button
          variant="outlined"
          title="The outgoing shot’s sound goes out and the incoming one’s comes in, with equal power, as the edge opens"
          onClick={() => {
            const said = crossfadeShots();
            if (said) enqueueSnackbar(said, { variant: 'warning' });
          }}
        >
          Crossfade the shots’ sound
        </Button>
      )}
      {pieces.length > 0 && (
        <Box
          role="list"
          aria-label="Pieces of sound"
          sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.5 }}
        >
          {pieces.map((piece) => (
            <PieceRowItem key={piece.id} piece={piece} />
          ))}
        </Box>
      )}
      <PieceSettings />
      {pieces.length > 0 && <LoudnessRow />}
      {pieces.length > 0 && (
        <SwitchField label="Hear sound while stepping" on={stepsHeard} onChange={toggleStepsHeard} />
      )}
    </Box>
  );
}

function PieceRowItem({ piece }: { piece: PieceRow }) {
  const inHand = useSound((state) => state.pieceId === piece.id);
  const alone = useSound((state) => state.alone === piece.id);
  const take = (then: () => unknown) => () => {
    takePiece(piece.id);
    then();
  };
  return (
    <Box
      role="listitem"
      onPointerDown={() => takePiece(piece.id)}
      sx={{
        ...{ display: 'flex', alignItems: 'center', border: 1, borderRadius: 1, pl: 1 },
        borderColor: inHand ? 'primary.main' : 'divider',
      }}
    >
      <Box sx={{ fontSize: 12, color: 'text.secondary', minWidth: 14 }} title={`Track ${piece.track + 1}`}>
        {piece.track + 1}
      </Box>
      <NameInput
        value={piece.name}
        label={`Name of ${piece.name}`}
        onFocus={() => takePiece(piece.id)}
        onName={(name) => changePiece('Name', { name })}
        sx={{ flex: 1, minWidth: 0, outline: 0, py: 0.75 }}
      />
      <SmallButton
        label={`Hear ${piece.name} alone`}
        pressed={alone}
        onClick={take(() => toggleAlone(piece.id))}
      >
        <SoloIcon size={16} />
      </SmallButton>
      <SmallButton
        label={piece.muted ? `Unmute ${piece.name}` : `Mute ${piece.name}`}
        pressed={piece.muted}
        onClick={take(toggleMuted)}
      >
        {piece.muted ? <MutedIcon size={16} /> : <HeardIcon size={16} />}
      </SmallButton>
      <SmallButton label={`Remove ${piece.name}`} onClick={take(removePieceInHand)}>
        <DeleteIcon size={16} />
      </SmallButton>
    </Box>
  );
}

/** Sounds that Kiv makes itself. */
function MadeSounds() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        variant="outlined"
        title="An air sweep that is fitted to the moving edge, a latch, wind, water …"
        onClick={({ currentTarget }) => setAnchor(currentTarget)}
      >
        Make a sound
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {makerNames.map((maker) => (
          <MenuItem
            key={maker}
            onClick={() => {
              setAnchor(null);
              addMade(maker);
            }}
          >
            {nameOf(maker)}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
