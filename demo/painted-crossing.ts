import path from 'node:path';
import { plainPose, type StrokeRow } from '../src/core/document/tables';
import { numbersPerPoint as N } from '../src/core/model/choices';
import { identity } from '../src/core/geometry/affine';
import { MotionMeasure } from '../src/core/motion/measure';
import { carrySubject } from '../src/core/subject/carry-subject';
import type { Stroke } from '../src/core/subject/strokes';
import { subjectFrameOn } from '../src/core/subject/subject-frame';
import { subjectLoops } from '../src/core/subject/subject-outline';
import { hundredth, id, layer, outline, pose, size } from './crossing-rows';
import { readFilm } from './film-frames';
import { fadedInOrder, marked } from './moving-crossings';

/** Frames that the loop is carried over, and how often it is painted over anew. */
const [length, every] = [37, 9];

const over = (radius: number, ...place: number[]): Stroke => ({ mark: 'this', radius, path: place });
/** Roughly down the body, along the arms, down the hat and face, along the brim, over the chin. */
const strokes = [
  over(14, 640, 380, 642, 640, 640, 712),
  over(10, 306, 378, 420, 386, 640, 392, 860, 386, 974, 378),
  over(9, 640, 132, 638, 230, 640, 310),
  over(8, 520, 232, 640, 226, 766, 230),
  over(6, 604, 270, 676, 272),
];

/** The scarecrow cut out by strokes, as the brush does it, and carried; the pond about it. */
export async function paintedCrossing(folder: string) {
  const film = readFilm(path.join(folder, 'scarecrow.mp4'), size);
  const measure = new MotionMeasure(size.width, size.height);
  for (const { planes } of film.pictures) measure.add(planes.y, planes.width, planes.height);
  const shot = { width: size.width, height: size.height, motion: measure.result() };
  const strokesOn = (frame: number) => (frame % every === 0 ? strokes : []);
  const first = await subjectFrameOn(film, shot, 0, identity);
  const region = first.cut({ strokes, prior: null, toPicture: identity });
  const [loop] = region ? subjectLoops(region, identity, size.width) : [];
  if (!loop) throw new Error('The strokes leave nothing of the scarecrow.');
  const { poses } = await carrySubject(
    film,
    shot,
    {
      from: { frame: 0, coordinates: loop.coordinates, parts: [] },
      to: null,
      direction: 1,
      most: length - 1,
      stops: false,
      kind: 'loop' as const,
      origin: 0,
      strokesOn,
    },
    identity,
    () => true,
  );
  const outlineId = id('85');
  const rounded = (coordinates: readonly number[]) => coordinates.map(hundredth);
  const painted: StrokeRow[] = Array.from({ length: Math.ceil(length / every) }, (_, k) => k * every).flatMap(
    (frame) =>
      strokes.map((stroke, position) => ({
        ...stroke,
        path: [...stroke.path],
        id: `6f1c0b52-6f0e-4c57-9a8b-0d6a6c0b${String(frame).padStart(2, '0')}${String(position).padStart(2, '0')}`,
        outlineId,
        frame,
        position: Math.round(frame / every) * strokes.length + position,
      })),
  );
  const rows = {
    crossing: {
      ...size,
      id: id('81'),
      name: 'Painted over: the scarecrow',
      plan: 'lingering subject',
      length,
    },
    layers: [
      layer('82', 'incoming', 'lily-pond.mp4', 0),
      layer('83', 'outgoing', 'scarecrow.mp4', 1),
      layer('84', 'outgoing', 'scarecrow.mp4', 2, { keeps: true }),
    ],
    outlines: [
      outline('85', '84', {
        ...{ name: 'Subject 1', kind: 'loop', painted: true, carriedBy: 'cutting' },
        points: Array.from({ length: loop.coordinates.length / N }, (_, k) => `p${k + 1}`),
        ...{ featherInside: 1.5, featherOutside: 1.5, beforeFirst: 'hold', afterLast: 'hold' },
      }),
    ],
    poses: [
      pose(outlineId, 0, rounded(loop.coordinates)),
      ...poses.map(({ frame, coordinates, doubt, unsure, offBy }) => ({
        ...pose(outlineId, frame, rounded(coordinates)),
        ...plainPose,
        ...{
          kind: 'loop' as const,
          origin: strokesOn(frame).length > 0 ? 'by hand' : 'carried',
          doubt,
          unsure,
          offBy,
        },
      })),
    ],
    strokes: painted,
    marks: marked('86', 8, 28),
  };
  return fadedInOrder(rows, id('84'), 8, [10, 10]);
}
