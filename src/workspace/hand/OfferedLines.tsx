'use client';

import { Shape } from 'react-konva';
import { startingCoordinates } from '@/core/outline';
import type { Affine } from '@/core/geometry/affine';
import { poseId, plainPose } from '@/core/document/rows';
import { useOffered } from '../trace/offered';
import { ink, strokeOutline } from './paint';

/** Outlines that could be taken, as they lie on a source frame. */
export function OfferedLines({
  layerId,
  source,
  toScreen,
}: {
  layerId: string;
  source: number;
  toScreen: Affine;
}) {
  const offered = useOffered((state) => state.offered);
  if (!offered || offered.layerId !== layerId) return null;
  return (
    <Shape
      sceneFunc={(context) => {
        for (const { kind, poses } of offered.outlines) {
          const rows = poses.map(({ frame, coordinates }) => ({
            ...plainPose,
            id: poseId('offered', frame),
            outlineId: 'offered',
            frame,
            origin: 'by hand' as const,
            onward: 'linear' as const,
            coordinates: [...coordinates],
          }));
          const line = startingCoordinates(rows, source);
          if (line) strokeOutline(context, line, kind === 'loop', toScreen, ink.chosen, [7, 5], 1);
        }
      }}
    />
  );
}
