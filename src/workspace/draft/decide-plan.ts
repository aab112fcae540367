import { shownRange } from '@/core/compose/source-frames';
import { layersInOrder } from '@/core/document/document';
import { layoutOf } from '@/core/document/plans';
import type { LayerRow } from '@/core/document/tables';
import { relaid } from '@/core/draft/decide';
import { type Passage, passes } from '@/core/begin/passage';
import { planFor } from '@/core/draft/plan-for';
import type { Shot } from '@/core/model/shot';
import { told } from '@/interface/start-worker';
import { useDocument } from '../document/document-store';
import { tracedNow } from '../session/traced';
import { clearFrom, findFirsts, type Found, notBegun } from '../trace/begin-for-me';
import { carrierBegun, useCarry } from '../trace/carry-store';
import { measureMovement, measuringMovement } from '../trace/movement';
import { useDraft } from './draft-store';

import type { Draft } from './draft';

export function shotsNow(): Record<string, Shot> {
  return Object.fromEntries(useDocument.getState().shots.map(({ shot }) => [shot.id, shot]));
}

/** Measures a shot, unless that is done. */
async function measured(draft: Draft, shotId: string): Promise<Shot | null> {
  const shot = shotsNow()[shotId];
  if (!shot || shot.frameCount < 2) return null;
  draft.tell(measuringMovement);
  const tell = (share: number) =>
    useCarry.setState({ under: { what: `${measuringMovement} of “${shot.name}”`, share } });
  const failure = await measureMovement(shot, draft.goesOn, tell).finally(() =>
    useCarry.setState({ under: null }),
  );
  if (failure) draft.leaveOpen('Line up', `“${shot.name}” was not measured`, failure);
  return shotsNow()[shotId] ?? null;
}

/** What movement shows of the edges that the plan wants: once looked for, it is drawn later. */
async function lookedFor(draft: Draft): Promise<Found[] | string> {
  const traced = tracedNow();
  if (!traced) return 'Choose an outgoing shot first.';
  const refusal = notBegun();
  if (refusal) return refusal;
  await measured(draft, traced.shot.id);
  const now = tracedNow();
  if (!draft.goesOn() || !now) return [];
  if (!now.shot.motion) return 'The movement of the shot could not be measured.';
  const what = 'Looking for the edge';
  draft.tell(what);
  useCarry.setState({ under: { what, share: 0 } });
  const found = await findFirsts(now).finally(() => useCarry.setState({ under: null }));
  if (found === null || typeof found === 'string') return found ?? [];
  const passing = found.some(({ passage }) => passage !== null);
  // What may be somebody who stands there is no edge that passes.
  const guessed = !now.shot.motion.crosser || found.every(({ clear }) => clear < clearFrom);
  if (!passing && guessed && found.every(({ on }) => on !== 'gap'))
    return 'Nothing was seen passing through the picture. If something does, draw its outline by hand.';
  return found;
}

const passageOfFound = (found: Found[] | string): Passage | null =>
  typeof found === 'string' ? null : (found.find(({ passage }) => passage !== null)?.passage ?? null);

export async function decidePlan(draft: Draft) {
  if (Object.keys(draft.document.outlines).length > 0) {
    const traced = tracedNow();
    if (traced) await measured(draft, traced.shot.id);
    return;
  }
  draft.found = await lookedFor(draft);
  const { plan } = draft.document.crossing;
  const layers = layersInOrder(draft.document);
  const passage = passageOfFound(draft.found);
  // What wants another kind of layers, or is not begun from movement, stays as it is.
  if (!draft.goesOn() || layers.length !== 2 || !layoutOf(plan).found) return;
  if (passes(passage) || (plan === 'opening' && typeof draft.found !== 'string')) return;
  const layerOf = (role: string) => layers.find((layer) => layer.role === role);
  const [goes, comes] = [layerOf('outgoing'), layerOf('incoming')];
  const outgoing = goes ? await measured(draft, goes.shotId) : null;
  const opens = outgoing?.motion?.crosser?.kind === 'opens';
  // What moves and comes to rest in the outgoing shot opens: only where nothing does the other one is looked at.
  const incoming = opens || !comes || !draft.goesOn() ? null : await measured(draft, comes.shotId);
  if (!draft.goesOn()) return;
  const other =
    plan === 'pass-by' && comes && incoming?.motion ? await lookedForArrival(comes, incoming) : null;
  const looked = {
    outgoing: { motion: outgoing?.motion ?? null, passage: plan === 'arrival' ? null : passage },
    incoming: { motion: incoming?.motion ?? null, passage: plan === 'arrival' ? passage : other },
  };
  const judged = planFor(looked.outgoing, looked.incoming);
  if (!draft.goesOn() || judged?.plan === plan) return;
  if (!judged)
    return draft.leaveOpen(
      'Shots',
      `The plan stays ${plan}`,
      'Nothing that crosses was found in either shot.',
    );
  const { says: basis, sure } = judged;
  const changes = useDraft.getState().options.plan ? relaid(draft.document, judged.plan, shotsNow()) : null;
  if (!changes)
    return draft.leaveOpen(
      'Shots',
      `The plan stays ${plan}, as chosen`,
      `It looks more like ${judged.plan}. ${basis}`,
    );
  draft.decide(`Change the plan to ${judged.plan}`, changes, {
    step: 'Shots',
    what: `Plan: ${judged.plan}`,
    basis,
    sure,
  });
  draft.found = await lookedFor(draft);
}

/** How something passes in the shot that would only be brought in; null where nothing does. */
async function lookedForArrival(layer: LayerRow, shot: Shot): Promise<Passage | null> {
  const carrier = await carrierBegun();
  if (!carrier) return null;
  const within = shownRange(layer, shot);
  const what = 'Looking for an edge in the incoming shot';
  const hear = told((share: number) => useCarry.setState({ under: { what, share } }));
  const found = await carrier
    .begin(shot.id, { within, edge: 'leading' }, hear)
    .finally(() => useCarry.setState({ under: null }));
  return found === null || typeof found === 'string' ? null : found.passage;
}
