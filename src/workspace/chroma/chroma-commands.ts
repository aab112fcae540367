import { removeChroma, setChroma } from '@/core/actions/layer-actions';
import type { ChromaRow } from '@/core/document/tables';
import { sentenceOf } from '@/interface/api';
import { checksBegun } from '../check/checks-store';
import { edit } from '../session/edit';
import { current } from '../session/in-hand';
import { setView, useView } from '../view/view-store';

/** What a person does to the keyed colour of the traced layer. */

/** A key as it is first set up around a picked colour. */
const usual = { softness: 12, grow: -1, clean: 8, spill: 60 };
/** Least tolerance around a picked colour, and how many times its spread is taken in; code values of chroma. */
const leastTolerance = 8;
const spreads = 3;

export function chromaNow(): ChromaRow | null {
  const { traced } = current();
  return (traced && traced.document.chromas[traced.layer.id]) ?? null;
}

/**
 * Keys the colour around a place of the picture; with `also` the colour that is keyed is widened to take this one in.
 *
 * @param at px of the traced shot.
 * @returns a sentence when it could not be done.
 */
export async function pickColour(at: readonly [number, number], also: boolean): Promise<string | null> {
  const { traced, source, view } = current();
  const service = await checksBegun();
  if (!traced || !service) return 'The picture is not ready yet; pick again in a moment.';
  try {
    const { cb, cr, spread } = await service.chroma(traced.shot.id, source, at, view.pickRadius);
    const before = chromaNow();
    const tolerance = Math.max(leastTolerance, spreads * spread);
    const rounded = (value: number) => Math.round(value * 10) / 10;
    let picked = { cb, cr, tolerance };
    if (also && before) {
      // The circle around both.
      const far = Math.hypot(cb - before.cb, cr - before.cr);
      const radius = Math.max(before.tolerance, (far + before.tolerance + tolerance) / 2);
      const share = far === 0 ? 0 : Math.min(1, Math.max(0, (radius - before.tolerance) / far));
      picked = {
        cb: before.cb + (cb - before.cb) * share,
        cr: before.cr + (cr - before.cr) * share,
        tolerance: radius,
      };
    }
    const after: ChromaRow = {
      ...(before ?? { ...usual, id: traced.layer.id }),
      cb: rounded(picked.cb),
      cr: rounded(picked.cr),
      tolerance: rounded(Math.min(200, picked.tolerance)),
    };
    edit(also ? 'Key this colour too' : 'Key a colour', setChroma(traced.document, after));
    return null;
  } catch (error) {
    return sentenceOf(error);
  }
}

export function changeChroma(what: string, settings: Partial<ChromaRow>) {
  const key = chromaNow();
  if (key) edit(`${what} of the key`, setChroma(current().traced!.document, { ...key, ...settings }));
  setView({ draft: null });
}

/** Shows a setting while a slider is still in hand. */
export function draftChroma(settings: Partial<ChromaRow>) {
  const key = chromaNow();
  if (key) setView({ draft: setChroma(current().traced!.document, { ...key, ...settings }) });
}

export function dropChroma() {
  const key = chromaNow();
  if (key) edit('Remove the key', removeChroma(key));
  setView({ keyAlone: false });
}

export function pickWithTool() {
  setView({ tool: useView.getState().tool === 'pick' ? 'edit' : 'pick', playing: false });
}
