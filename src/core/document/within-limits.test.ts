import { changeRow, type RowChange } from './edit';
import { plainPose, poseId } from './tables';
import { withinLimits } from './within-limits';

const pose = {
  ...{ ...plainPose, id: poseId('o', 4), outlineId: 'o', frame: 4, origin: 'by hand' as const },
  coordinates: [0, 0, 0, 0, 0, 0, 9, 9, 0, 0, 0, 0],
};
const refused = (change: RowChange) => () => withinLimits('Draw', [change]);

test('what the server would not take is refused before it is done, in a sentence', () => {
  const kept = changeRow('pose', null, pose);
  expect(withinLimits('Draw', [kept]).changes).toEqual([kept]);
  for (const frame of [-1, 1e9, NaN])
    expect(refused(changeRow('pose', null, { ...pose, id: poseId('o', frame), frame }))).toThrow(
      /^The shot has no picture on this frame/,
    );
  for (const x of [NaN, Infinity, 1e12])
    expect(
      refused(changeRow('pose', null, { ...pose, coordinates: [x, ...pose.coordinates.slice(1)] })),
    ).toThrow(/too far out of the picture/);
  // What is taken away may have been anything.
  expect(withinLimits('Undo', [changeRow('pose', { ...pose, frame: -1 }, null)]).changes).toHaveLength(1);
});
