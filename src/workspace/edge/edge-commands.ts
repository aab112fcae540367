import { setCrossing } from '@/core/actions/layer-actions';
import { keyEdge, removeEdgeKey, setEdge, setEdgeOnward } from '@/core/actions/edge-actions';
import { edgeAtFrame } from '@/core/document/document';
import type { Blend } from '@/core/model/choices';
import { type RowChange } from '@/core/document/edit';
import type { EdgeSettings } from '@/core/document/tables';
import type { Onward } from '@/core/model/time';
import { edgeAt, edgeSettingsOf } from '@/core/outline';
import { edit } from '../session/edit';
import { current } from '../session/in-hand';
import { setView, useView } from '../view/view-store';

/** What a person does to the edge of the outline in hand. */

function framePhrase(): string {
  return `frame ${useView.getState().frame}`;
}

export function changeEdge(what: string, settings: Partial<EdgeSettings>) {
  const { traced, outline, source } = current();
  if (traced && outline) {
    const keyed = (traced.document.edges[outline.id] ?? []).length > 0;
    edit(
      `${what} of ${outline.name}${keyed ? `, ${framePhrase()}` : ''}`,
      setEdge(traced.document, outline.id, source, settings),
    );
  }
  setView({ draft: null });
}

/** Shows a setting while a slider is still in hand. */
export function draftEdge(settings: Partial<EdgeSettings>) {
  const { traced, outline, source } = current();
  if (traced && outline) setView({ draft: setEdge(traced.document, outline.id, source, settings) });
}

/** The settings that a slider in hand shows, or null. */
export function edgeNow(draft: readonly RowChange[] | null): EdgeSettings | null {
  const after = draft?.find(({ table }) => table === 'edge' || table === 'outline')?.after;
  return after && 'featherInside' in after ? edgeSettingsOf(after) : null;
}

export function toggleEdgeKey() {
  const { traced, outline, source } = current();
  if (!traced || !outline) return;
  if (edgeAtFrame(traced.document, outline.id, source))
    edit(`Remove the edge’s key, ${framePhrase()}`, removeEdgeKey(traced.document, outline.id, source));
  else edit(`Key the edge, ${framePhrase()}`, keyEdge(traced.document, outline.id, source));
}

/** How the edge runs on from its key at or before this frame. */
export function edgeOnward(onward: Onward) {
  const { traced, outline, source } = current();
  const key = outline && traced?.document.edges[outline.id]?.findLast(({ frame }) => frame <= source);
  if (traced && outline && key)
    edit(`Edge runs on ${onward}`, setEdgeOnward(traced.document, outline.id, key.frame, onward));
}

/** What the feather is multiplied by at the selected points. */
export function setFactor(factor: number) {
  const { traced, outline, source, view } = current();
  if (!traced || !outline) return;
  const edge = edgeAt(outline, traced.document.edges[outline.id] ?? [], source);
  const factors = outline.points.map((_, p) => (view.points.has(p) ? factor : (edge.factors[p] ?? 1)));
  changeEdge('Feather at points', { factors: factors.every((each) => each === 1) ? [] : factors });
}

/** How the crossing's layers are mixed where an edge is soft. */
export function blendIn(blend: Blend) {
  const { traced } = current();
  const crossing = traced?.document.crossing;
  if (traced && crossing?.blend !== blend)
    edit(
      blend === 'display' ? 'Mix in display values' : `Mix in ${blend.replace('linear', 'linear light,')}`,
      setCrossing(traced.document, { blend }),
    );
}
