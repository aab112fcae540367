'use client';

import { useMemo } from 'react';
import { Shape } from 'react-konva';
import { startingCoordinates } from '@/core/outline';
import { plainPose, poseId, type PoseRow } from '@/core/document/tables';
import { type OfferedOutline, useOffered } from '../trace/offered';
import { ink, strokeOutline } from '../sight/paint';
import type { Sight } from '../sight/sight';

/** A pose that could be taken, as the outline's in-betweens are made from. */
const rowOf = ({ frame, coordinates }: OfferedOutline['poses'][number]): PoseRow => ({
  ...plainPose,
  id: poseId('offered', frame),
  outlineId: 'offered',
  frame,
  origin: 'by hand',
  onward: 'linear',
  coordinates: [...coordinates],
});

/** Outlines that could be taken, as they lie on a source frame. */
export function OfferedLines({ layerId, source, sight }: { layerId: string; source: number; sight: Sight }) {
  const offered = useOffered((state) => state.offered);
  const posed = useMemo(
    () =>
      offered?.layerId === layerId
        ? offered.outlines.map(({ kind, poses }) => ({ closed: kind === 'loop', poses: poses.map(rowOf) }))
        : [],
    [offered, layerId],
  );
  return (
    <Shape
      sceneFunc={(context) => {
        for (const { closed, poses } of posed) {
          const line = startingCoordinates(poses, source);
          if (line) strokeOutline(context, line, closed, sight, { ink: ink.chosen, dash: [7, 5], alpha: 1 });
        }
      }}
    />
  );
}
