import { documentOf } from '../document/document';
import { plainCrossing, plainLayer, plainOutline, plainPose } from '../document/tables';
import type { Plan } from '../model/choices';
import type { Shot } from '../model/shot';
import { crossingProgress, traceProgress } from './trace-progress';

const pose = (frame: number) => ({
  id: `o@${frame}`,
  outlineId: 'o',
  frame,
  ...plainPose,
  origin: 'by hand' as const,
  onward: 'linear' as const,
  coordinates: [],
});

test('names the first thing that is still to do, and the frame where', () => {
  const poses = [pose(10), pose(14)];
  expect(traceProgress([], null, null)).toMatchObject({ holds: false, note: 'Draw the first outline' });
  expect(traceProgress(poses, Float32Array.of(0.2, 1, 1), 1)).toMatchObject({ holds: false, frame: 0 });
  // Coverage leaps from 40 % to full after the last pose, at crossing frame 2: the next pose is as far on as the last.
  expect(traceProgress(poses, Float32Array.of(0, 0.1, 0.4, 1, 1, 1, 1, 1), 2)).toMatchObject({
    holds: false,
    frame: 6,
  });
  expect(traceProgress(poses, Float32Array.of(0, 0.5, 0.999), 5)).toMatchObject({ holds: false, frame: 2 });
  expect(traceProgress(poses, Float32Array.of(0, 0.5, 1, 1), 2).holds).toBe(true);
  // An opening never fills the frame; it is traced to the end.
  const door = Float32Array.of(0, 0.1, 0.2, 0.2);
  expect(traceProgress(poses, door, 2, 'opens')).toMatchObject({ holds: false, frame: 3 });
  expect(traceProgress(poses, door, 3, 'opens').holds).toBe(true);
  // A window that was always there is traced once.
  expect(traceProgress([pose(0)], Float32Array.of(0.1, 0.5), 0, 'stays').holds).toBe(true);
});

test('of a crossing it is the outline that cuts the traced shot which tells, on the frames that show its poses', () => {
  const shot: Shot = {
    ...{ id: 's', name: 's', width: 64, height: 36, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 50 },
    ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
  };
  const layers = (['passing', 'outgoing'] as const).map((role, position) => ({
    ...plainLayer,
    ...{ id: role, role, shotId: 's', position, offset: 6 },
  }));
  const outline = (id: string, cutsLayerId: string | null, position: number) => ({
    ...plainOutline,
    ...{
      id,
      layerId: 'passing',
      cutsLayerId,
      name: id,
      kind: 'seam' as const,
      sweptSide: 'left' as const,
      position,
      points: [],
    },
  });
  const crossing = (plan: Plan) => ({
    ...plainCrossing,
    ...{ id: 'c', name: 'c', plan, width: 64, height: 36, rateNum: 25, rateDen: 1, length: 8 },
  });
  const back = [10, 12].map((frame) => ({ ...pose(frame), id: `back@${frame}`, outlineId: 'back' }));
  const outlines = [outline('front', 'outgoing', 0), outline('back', null, 1)];
  const document = documentOf({
    crossing: [crossing('bridge')],
    layer: layers,
    outline: outlines,
    pose: back,
  });
  const known = () => shot;
  // Its last pose, frame 12 of the shot, is shown on frame 6; all is cut only after it.
  expect(crossingProgress(document, known, Float32Array.of(0, 0, 0, 0, 0.1, 0.3, 0.5, 1))).toMatchObject({
    holds: false,
    note: 'Last pose, frame 6: 50 % covered',
  });
  expect(crossingProgress(document, known, Float32Array.of(0, 0, 0, 0, 0.3, 0.6, 1, 1)).holds).toBe(true);
  expect(crossingProgress(document, () => undefined, null).note).toBe('Draw the first outline');
  const keyed = documentOf({ crossing: [crossing('keyed board')], layer: layers });
  expect(crossingProgress(keyed, known, null)).toMatchObject({
    holds: false,
    note: 'Pick the colour of the board',
  });
});
