'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useMemo, useState } from 'react';
import { type Partner, rankPartners } from '@/core/checks/partners';
import { pairOf } from '@/core/compose/scene';
import type { LayerRow } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import { call, sentenceOf } from '@/interface/api';
import { useSnackbar } from '@/interface/messages';
import { PartnerList } from '@/shots/PartnerList';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { replaceShot } from './lining-up';
import { layerName } from '../session/layer-name';
import { measureShots, stopMeasuring, useMotion } from './motion-store';

/** Ranks all footage by how well it would sit in a layer's place, beside the shot on the other side. */
export function Partners({ layer, all }: { layer: LayerRow; all: readonly Shot[] }) {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const addShot = useDocument((state) => state.addShot);
  const { measuring, failure } = useMotion();
  const { enqueueSnackbar } = useSnackbar();
  const [open, setOpen] = useState(false);
  const [loading, setLoading] = useState(false);
  const moving = useMemo(() => all.filter(({ frameCount }) => frameCount > 1), [all]);
  // Footage that is not the crossing's stays apart: nothing of the page is about it before it is taken.
  const [others, setOthers] = useState<readonly ShotMedia[]>([]);
  const known = useMemo(
    () => new Map([...others, ...shots].map(({ shot }) => [shot.id, shot])),
    [others, shots],
  );
  const pair = useMemo(() => pairOf(document, null, layer.id), [document, layer.id]);
  const other = pair?.find(({ id }) => id !== layer.id) ?? null;
  const otherShot = (other && known.get(other.shotId)) ?? null;
  const candidates = useMemo(
    () => moving.flatMap(({ id }) => known.get(id) ?? []).filter(({ id }) => id !== otherShot?.id),
    [moving, known, otherShot],
  );
  const partners = useMemo(
    () =>
      open && other && otherShot
        ? rankPartners(document, { layer: other, shot: otherShot }, layer, candidates)
        : [],
    [open, document, other, otherShot, layer, candidates],
  );
  if (!other || moving.length < 2) return null;
  const unmeasured = candidates.filter(({ motion }) => !motion);
  const otherWants = otherShot && otherShot.frameCount > 1 && !otherShot.motion;
  // The other one first: nothing can be ranked without it.
  const wanting = [...(otherWants ? [otherShot] : []), ...unmeasured];

  const show = async () => {
    setOpen(true);
    setLoading(true);
    try {
      const found: ShotMedia[] = [];
      for (const { id } of moving)
        if (!shots.some(({ shot }) => shot.id === id)) found.push(await call<ShotMedia>(`/api/shots/${id}`));
      setOthers(found);
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    } finally {
      setLoading(false);
    }
  };
  const measure = () =>
    measureShots(
      wanting.map(({ id }) => id),
      others,
      (shot) =>
        setOthers((now) => now.map((media) => (media.shot.id === shot.id ? { ...media, shot } : media))),
    );
  const take = ({ shot, settings }: Partner) => {
    const media = others.find((each) => each.shot.id === shot.id);
    if (media) addShot(media);
    const warning = replaceShot(layer, shot, settings);
    if (warning) enqueueSnackbar(warning, { variant: 'warning', autoHideDuration: 12_000 });
  };

  if (!open)
    return (
      <Button variant="outlined" onClick={() => void show()}>
        Which shots fit here?
      </Button>
    );
  return (
    <Box component="section" aria-label="Shots that would fit" sx={{ display: 'grid', gap: 0.75 }}>
      <Box sx={{ fontSize: 13 }}>
        By movement, beside “{otherShot?.name ?? layerName(other)}”, the best first:
      </Box>
      {loading && <LinearProgress aria-label="Looking through the footage" />}
      {otherShot && !loading && partners.length === 0 && (
        <Box sx={{ fontSize: 13 }}>
          {otherShot.frameCount < 2
            ? 'That is a still: there is no movement to go by.'
            : otherShot.motion
              ? 'None of the other footage has been measured yet.'
              : 'How that one moves has not been measured yet.'}
        </Box>
      )}
      <PartnerList
        partners={partners}
        isTaken={({ shot, settings }) => shot.id === layer.shotId && settings.offset === layer.offset}
        onTake={take}
      />
      {failure && <Box sx={{ fontSize: 13 }}>{failure}</Box>}
      {!loading && wanting.length > 0 && !measuring && (
        <Button variant="outlined" onClick={() => void measure()}>
          Measure {wanting.length === 1 ? 'one more' : `${wanting.length} more`}
        </Button>
      )}
      {measuring && (
        <Box role="status" sx={{ display: 'grid', gap: 0.5, fontSize: 13 }}>
          Measuring “{known.get(measuring.shotId)?.name ?? 'a shot'}” …
          <LinearProgress variant="determinate" value={100 * measuring.share} aria-label="Measuring" />
          <Button variant="outlined" onClick={stopMeasuring}>
            Stop; what is measured stays
          </Button>
        </Box>
      )}
      <Button onClick={() => setOpen(false)}>Close</Button>
    </Box>
  );
}
