import { useMemo, useState } from 'react';
import { setLayer } from '@/core/actions/layer-actions';
import { edgeRange } from '@/core/checks/belonging';
import { type Partner, rankPartners } from '@/core/checks/partners';
import { applyChanges } from '@/core/document/document';
import type { CrossingDocument, LayerRow } from '@/core/document/tables';
import { slipOf } from '@/core/draft/slip';
import type { Shot } from '@/core/model/shot';
import { rateOf } from '@/core/time/rate';
import { offsetAt } from '@/core/time/time-map';
import type { ShotMedia } from '@/wire/answers';
import { useMotion } from './motion-store';

/** Most shots that are tried beside the one that is there. */
export const mostTried = 3;

/** A shot that is tried in a layer's place. */
export interface Tried {
  media: ShotMedia;
  /** The crossing with it. */
  document: CrossingDocument;
  /** The layer's settings that make it so. */
  settings: Partial<LayerRow>;
  /** How it lies in time, and what that rests on where it was not somebody's hand. */
  says: string;
  restsOn: string | null;
}

/**
 * What is tried in a layer's place: the shot that is there, and those that are ticked, at first those that fit best, each laid
 * where it fits best until somebody slips it.
 *
 * @param document with opening and closing marked, where they are known.
 * @param beside the layer that stays.
 */
export function useTriedShots(
  document: CrossingDocument,
  layer: LayerRow,
  beside: LayerRow,
  footage: readonly ShotMedia[] | null,
) {
  const [ticked, setTicked] = useState<readonly string[] | null>(null);
  const [slips, setSlips] = useState<Readonly<Record<string, number>>>({});
  const besideShot = footage?.find(({ shot }) => shot.id === beside.shotId)?.shot ?? null;
  const candidates = useMemo(
    () =>
      (footage ?? []).filter(
        ({ shot, deleted }) => !deleted && shot.id !== beside.shotId && shot.id !== layer.shotId,
      ),
    [footage, beside.shotId, layer.shotId],
  );
  const partners = useMemo(() => {
    if (!besideShot) return [];
    const shots = candidates.map(({ shot }) => shot);
    return rankPartners(document, { layer: beside, shot: besideShot }, layer, shots);
  }, [document, beside, besideShot, layer, candidates]);
  const ordered = useMemo(() => byFit(candidates, partners), [candidates, partners]);
  const measuring = useMotion((state) => state.measuring !== null);
  const [best, setBest] = useState<readonly string[]>([]);
  // While shots are being measured their order changes; what is shown waits until that is done.
  const fitting = ordered.slice(0, mostTried).map(({ shot }) => shot.id);
  if (!measuring && fitting.join(' ') !== best.join(' ')) setBest(fitting);
  const chosen = ticked ?? best;
  const tries = useMemo((): Tried[] => {
    const now = footage?.find(({ shot }) => shot.id === layer.shotId);
    if (!now || !besideShot) return [];
    return [
      { media: now, document, settings: {}, says: 'In the crossing now', restsOn: null },
      ...chosen
        .flatMap((id) => candidates.find(({ shot }) => shot.id === id) ?? [])
        .map((media) => tryShot(document, layer, { layer: beside, shot: besideShot }, media, slips)),
    ];
  }, [footage, besideShot, chosen, candidates, layer, document, beside, slips]);
  return {
    ...{ beside: besideShot, partners, ordered, chosen, tries },
    tick: (id: string, on: boolean) => setTicked(on ? [...chosen, id] : chosen.filter((each) => each !== id)),
    /** Lays a shot so that it shows one of its frames on the opening. */
    slip: (id: string, source: number) => setSlips((all) => ({ ...all, [id]: source })),
  };
}

function tryShot(
  document: CrossingDocument,
  layer: LayerRow,
  beside: { layer: LayerRow; shot: Shot },
  media: ShotMedia,
  slips: Readonly<Record<string, number>>,
): Tried {
  const { shot } = media;
  const { settings, says, basis } = slipOf(document, beside, layer, shot);
  const [opens] = edgeRange(document);
  const byHand = slips[shot.id];
  const laid = { ...layer, ...settings, visible: true };
  if (byHand !== undefined) laid.offset = offsetAt(byHand, opens, laid, rateOf(document.crossing), shot);
  return {
    media,
    settings: { ...settings, offset: laid.offset, visible: true },
    document: applyChanges(document, setLayer(document, layer.id, laid)),
    says: byHand === undefined ? `${says[0].toUpperCase()}${says.slice(1)}` : 'Slipped by hand',
    restsOn: byHand === undefined ? basis : null,
  };
}

/** Those that are measured by how well they fit, then the others. */
function byFit(candidates: readonly ShotMedia[], partners: readonly Partner[]): ShotMedia[] {
  const place = new Map(partners.map(({ shot }, k) => [shot.id, k]));
  const at = ({ shot }: ShotMedia) => place.get(shot.id) ?? partners.length;
  return [...candidates].sort((a, b) => at(a) - at(b));
}
