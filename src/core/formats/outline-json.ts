import { pointsOf, type TracedOutline } from './traced-outline';

/** An outline with its poses as JSON, as docs/formats/outline.schema.json describes it. */
export function outlineJson({ shot, outline, poses }: TracedOutline): string {
  return JSON.stringify(
    {
      format: 'kiv outline',
      version: 1,
      shot: {
        ...{ name: shot.name, width: shot.width, height: shot.height, frameCount: shot.frameCount },
        rate: [shot.rate.num, shot.rate.den],
      },
      name: outline.name,
      kind: outline.kind,
      sweptSide: outline.sweptSide,
      combine: outline.combine,
      beforeFirst: outline.beforeFirst,
      afterLast: outline.afterLast,
      points: outline.points,
      poses: poses.map(({ frame, origin, onward, coordinates }) => ({
        ...{ frame, origin, onward },
        points: pointsOf(coordinates),
      })),
    },
    null,
    1,
  );
}
