import { applyChanges, documentOf, EditConflict, poseAtFrame } from './document';
import { changeRow, inverseChanges, type RowChange } from './edit';
import { plainPose, type OutlineRow, plainOutline, type PoseRow, poseId } from './tables';

const crossing = {
  id: 'c',
  name: 'Lilies',
  plan: 'pass-by' as const,
  width: 1280,
  height: 720,
  rateNum: 25,
  rateDen: 1,
  length: 90,
  inFrame: 0,
  outFrame: null,
  blend: 'display' as const,
  moveShutter: 0,
  blurBorder: 'extend' as const,
};
const seam: OutlineRow = {
  ...plainOutline,
  id: 's',
  layerId: 'l',
  cutsLayerId: null,
  name: 'Back',
  kind: 'seam',
  sweptSide: 'left',
  position: 0,
  points: ['a', 'b'],
};
const pose = (frame: number, x: number): PoseRow => ({
  id: poseId('s', frame),
  outlineId: 's',
  frame,
  ...plainPose,
  origin: 'by hand',
  onward: 'linear',
  coordinates: [x, 0, 0, 0, 0, 0, x, 720, 0, 0, 0, 0],
});

test('any sequence of edits is undone exactly, last to first, and shares what it did not touch', () => {
  const start = documentOf({ crossing: [crossing], outline: [seam], pose: [pose(10, 5)] });
  const steps: RowChange[][] = [
    [changeRow('pose', null, pose(4, 1)), changeRow('pose', null, pose(30, 9))],
    [changeRow('pose', pose(4, 1), pose(4, 2)), changeRow('outline', seam, { ...seam, featherInside: 12 })],
    [changeRow('pose', pose(10, 5), null)],
    [changeRow('crossing', crossing, { ...crossing, length: 40 })],
  ];
  const states = [start];
  for (const changes of steps) states.push(applyChanges(states[states.length - 1], changes));
  expect(states[2].poses.s.map((p) => p.frame)).toEqual([4, 10, 30]);
  expect(states[4].poses.s).toBe(states[3].poses.s);
  expect(poseAtFrame(states[4], 's', 10)).toBeNull();
  let back = states[4];
  for (let k = steps.length - 1; k >= 0; k--) {
    back = applyChanges(back, inverseChanges(steps[k]));
    expect(back).toEqual(states[k]);
  }
});

test('a change made from another row is refused and changes nothing', () => {
  const start = documentOf({ crossing: [crossing], outline: [seam], pose: [pose(10, 5)] });
  const stale = [changeRow('pose', null, pose(3, 1)), changeRow('pose', pose(10, 4), pose(10, 6))];
  expect(() => applyChanges(start, stale)).toThrow(EditConflict);
  expect(start.poses.s).toEqual([pose(10, 5)]);
});
