import { useMemo } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { bothViews, type View } from '@/core/compose/scene';
import { applyChanges } from '@/core/document/document';
import { edgeAt, shapeAt, startingCoordinates } from '@/core/outline';
import { edgeNow } from '../edge/edge-commands';
import { sourceFrameOf, useOutline, useTraced } from '../session/traced';
import { sightAt } from '../sight/sight';
import { type Camera, useView } from '../view/view-store';

/** What of the traced shot's outlines is drawn over the picture, with what a hand would change of it. */
export function useShownOutline(camera: Camera) {
  const traced = useTraced();
  const outline = useOutline()?.outline ?? null;
  const look = useView(
    useShallow(({ frame, tool, drawnBy, points, pivot, draft, onion, view, playing, step }) => ({
      // Nothing is drawn over the picture while it plays.
      frame: playing ? -1 : frame,
      ...{ tool, drawnBy, points, pivot, draft, onion, view, playing, step },
    })),
  );
  const { frame, draft, view, step } = look;
  const sight = useMemo(
    () => traced && sightAt(traced, frame, camera, view === 'result'),
    [camera, traced, frame, view],
  );
  const reshaped = draft?.some(({ table }) => table === 'pose') === true;
  const posesOf = useMemo(() => {
    if (!traced) return {};
    return draft && reshaped ? applyChanges(traced.document, draft).poses : traced.document.poses;
  }, [traced, draft, reshaped]);

  const source = traced ? sourceFrameOf(traced, frame) : 0;
  const poses = (outline && posesOf[outline.id]) ?? [];
  const shape = shapeAt(poses, source, outline ?? undefined);
  const drafted = draft?.find((change) => change.table === 'outline' && change.id === outline?.id)?.after;
  const edge =
    traced && outline && step === 'Edge'
      ? (edgeNow(draft) ?? edgeAt(outline, traced.document.edges[outline.id] ?? [], source))
      : null;
  return {
    ...look,
    traced,
    sight,
    source,
    outline,
    /** The outline with what is drafted of its settings. */
    asDrafted: drafted && 'sweptSide' in drafted ? drafted : outline,
    poses,
    /** Six numbers a point, shot px; null where it has no pose. */
    coordinates: startingCoordinates(poses, source),
    pose: shape.state === 'posed' ? (poses.find((pose) => pose.frame === source) ?? null) : null,
    /** Whether it is there on this frame, posed or between poses. */
    present: shape.state === 'posed' || shape.state === 'in-between',
    edge,
    /** Whether the view is of what comes out: lines stay in the background. */
    quiet: view === 'result' || view === 'matte',
    /** Whether both shots are shown at once, where no outline belongs. */
    both: (bothViews as readonly View[]).includes(view),
  };
}

export type ShownOutline = ReturnType<typeof useShownOutline>;
/** The same once a shot is traced. */
export type TracedOutline = ShownOutline & {
  traced: NonNullable<ShownOutline['traced']>;
  sight: NonNullable<ShownOutline['sight']>;
};
