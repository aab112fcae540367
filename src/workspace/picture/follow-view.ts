import { useDocument } from '../document/document-store';
import type { PreviewClient } from '../preview/preview-client';
import { tracedNow } from '../session/traced';
import { hearStep, playTogether } from '../sound/sound-client';
import { useView, type ViewState } from '../view/view-store';

/** What of the view makes the preview's look. */
const lookFields = [
  'view',
  'quality',
  'fineness',
  'loupe',
  'visible',
  'solo',
  'share',
  'layerId',
  'keyAlone',
] as const satisfies readonly (keyof ViewState)[];

function lookOf({
  view,
  quality,
  fineness,
  loupe,
  visible,
  solo,
  share,
  layerId,
  keyAlone,
}: Pick<ViewState, (typeof lookFields)[number]>) {
  return {
    view,
    // The loupe shows the crossing's own pixels, however small the picture is.
    quality: loupe ? 1 : Math.min(quality, fineness),
    traced: tracedNow()?.layer.id ?? null,
    other: layerId,
    ...{ visible, solo, share, keyAlone },
  };
}

/**
 * Keeps the preview at the frame, draft and look that the view store holds, until the returned function is called. A drag
 * goes this way, from the store to the worker, without anything being rendered.
 */
export function followView(client: PreviewClient): () => void {
  const start = useView.getState();
  client.show(start.frame, lookOf(start));
  let stopPlaying: (() => void) | null = null;
  const stopFollowing = useView.subscribe((now, before) => {
    if (now.draft !== before.draft) client.setDraft(now.draft);
    const sameLook = lookFields.every((field) => now[field] === before[field]);
    if (now.playing !== before.playing) {
      stopPlaying?.();
      stopPlaying = now.playing ? playTogether(client) : null;
    }
    const moved = now.frame !== before.frame;
    if (!now.playing && !before.playing && moved) hearStep(now.frame);
    if (!now.playing && (moved || !sameLook || before.playing)) client.show(now.frame, lookOf(now));
    else if (now.playing && !sameLook) client.setLook(lookOf(now));
  });
  let traced = tracedNow()?.layer.id;
  const stopTraced = useDocument.subscribe(() => {
    if (traced === tracedNow()?.layer.id) return;
    traced = tracedNow()?.layer.id;
    const view = useView.getState();
    if (view.playing) client.setLook(lookOf(view));
    else client.show(view.frame, lookOf(view));
  });
  return () => {
    stopPlaying?.();
    stopFollowing();
    stopTraced();
  };
}
