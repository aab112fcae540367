import { setLayer } from '@/core/actions/layer-actions';
import type { LayerRow } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import { call } from '@/interface/api';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { edit } from '../session/edit';
import { tracedNow } from '../session/traced';

/** What a person does with a shot that is the traced layer's matte. */

/** Share by which the aspect ratios of two pictures may differ without a warning. */
const mayDiffer = 0.01;

/**
 * Makes a shot of the footage the traced layer's matte, as it is.
 *
 * @param from frame of the traced shot on which the matte's frame 0 lies.
 * @returns a sentence where that could not be done, or its shape is another; else null.
 */
export async function cutByMatte(matteId: string, from: number): Promise<string | null> {
  const media = await call<ShotMedia>(`/api/shots/${matteId}`);
  const traced = tracedNow();
  if (!traced) return 'Choose a shot first.';
  useDocument.getState().addShot(media);
  changeMatte(`Cut by “${media.shot.name}”`, { matteId, matteFrom: from, matteTurned: false });
  return otherShape(traced.shot, media.shot);
}

/** Says where a matte has another shape than the shot that it cuts; null: it has the same. */
export function otherShape(shot: Shot, matte: Shot): string | null {
  const [own, its] = [shot, matte].map(({ width, height }) => width / height);
  if (Math.abs(its / own - 1) <= mayDiffer) return null;
  return `“${matte.name}” is ${matte.width} × ${matte.height}, the shot ${shot.width} × ${shot.height}: it is stretched over it.`;
}

export function changeMatte(
  label: string,
  settings: Partial<Pick<LayerRow, 'matteId' | 'matteFrom' | 'matteTurned'>>,
) {
  const traced = tracedNow();
  if (traced) edit(label, setLayer(traced.document, traced.layer.id, settings));
}

/** Removes the matte from the layer; its outlines stay, and the shot stays among the footage. */
export function dropMatte() {
  changeMatte('Remove the matte', { matteId: null, matteFrom: 0, matteTurned: false });
}
