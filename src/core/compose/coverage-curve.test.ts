import { applyChanges, documentOf } from '../document/document';
import {
  type CrossingDocument,
  plainCrossing,
  plainLayer,
  plainOutline,
  plainPose,
  poseId,
} from '../document/tables';
import { setMove } from '../actions/move-actions';
import type { Role } from '../model/choices';
import type { Shot } from '../model/shot';
import { MatteScratch } from '../matte/matte';
import { fadeInOrder } from '../move/fades';
import { pushIn } from '../move/push-in';
import { coverageAt } from './coverage-curve';

const [width, height] = [160, 90];
const shot: Shot = {
  ...{ id: 's', name: 's', width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 60 },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
};
const shots = { s: shot };
const scratch = new MatteScratch();

/** Layers from the bottom up; the top one has a box as its opening: a quarter of the frame. */
function crossing(
  plan: 'opening' | 'pull-back' | 'lingering subject',
  roles: Role[],
  keeps = false,
): CrossingDocument {
  const top = `l${roles.length - 1}`;
  const box = [40, 22.5, 120, 22.5, 120, 67.5, 40, 67.5];
  return documentOf({
    crossing: [
      { ...plainCrossing, id: 'c', name: 'T', plan, width, height, rateNum: 25, rateDen: 1, length: 50 },
    ],
    layer: roles
      .map((role, position) => ({ ...plainLayer, id: `l${position}`, role, shotId: 's', position }))
      .map((row) => (row.id === top ? { ...row, keeps } : row)),
    outline: [
      {
        ...{
          ...plainOutline,
          id: 'o',
          layerId: top,
          cutsLayerId: null,
          name: 'Box',
          kind: 'loop',
          position: 0,
        },
        ...{ sweptSide: 'right', points: ['a', 'b', 'c', 'd'], beforeFirst: 'hold', afterLast: 'hold' },
      },
    ],
    pose: [
      {
        ...{
          id: poseId('o', 0),
          outlineId: 'o',
          frame: 0,
          ...plainPose,
          origin: 'by hand',
          onward: 'linear',
        },
        coordinates: [0, 2, 4, 6].flatMap((k) => [box[k], box[k + 1], 0, 0, 0, 0]),
      },
    ],
  });
}
const at = (document: CrossingDocument, frame: number) => coverageAt(document, shots, frame, scratch);
const asked = { layerId: 'l1', all: false, from: 10, to: 30, along: 0 };

test('what moves is covered as the crossing’s frame shows it: a push ends full, beyond a shot’s border nothing is left', () => {
  const still = crossing('opening', ['incoming', 'outgoing']);
  expect(at(still, 20)).toBeCloseTo(0.25, 2);
  const pushed = applyChanges(still, pushIn(still, shots, { ...asked, back: false }, scratch));
  expect(at(pushed, 10)).toBeCloseTo(0.25, 2);
  // Half-way in the logarithm twice as long: by about 1.4 each way.
  expect(at(pushed, 20)).toBeCloseTo(0.5, 1);
  for (let frame = 11; frame <= 30; frame++)
    expect(at(pushed, frame)).toBeGreaterThanOrEqual(at(pushed, frame - 1) - 0.001);
  expect(at(pushed, 30)).toBe(1);
  const aside = applyChanges(still, setMove(still, 'l1', 'place', 0, width / 2, 0));
  // Half of the frame is bare, and the box's left half is cut from the rest.
  expect(at(aside, 5)).toBeCloseTo(0.5 + 0.125, 2);
});

test('a pull-back has taken nothing while its opening fills the frame; a lingering subject goes last', () => {
  const still = crossing('pull-back', ['outgoing', 'incoming']);
  const pulled = applyChanges(still, pushIn(still, shots, { ...asked, back: true }, scratch));
  expect(at(pulled, 10)).toBe(0);
  expect(at(pulled, 40)).toBeCloseTo(0.75, 2);
  const lingers = crossing('lingering subject', ['incoming', 'outgoing', 'outgoing'], true);
  const faded = applyChanges(lingers, fadeInOrder(lingers, 'l2', 5, [20, 20])!);
  expect(at(faded, 5)).toBeCloseTo(0, 6);
  expect(at(faded, 15)).toBeCloseTo(0.375, 2);
  expect(at(faded, 25)).toBeCloseTo(0.75, 2);
  expect(at(faded, 45)).toBeCloseTo(1, 6);
});
