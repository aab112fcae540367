import { applyChanges, documentOf, playedRange } from '../document/document';
import { plainCrossing, plainLayer } from '../document/tables';
import type { Shot } from '../model/shot';
import { framesLost, rampRemedies, readyRamp } from './ready-ramp';

const shot = (id: string): Shot => ({
  ...{ id, name: id, width: 64, height: 36, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 120 },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
});
const shots = { out: shot('out'), in: shot('in') };
const document = documentOf({
  crossing: [
    {
      ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by' as const, width: 64, height: 36 },
      ...{ rateNum: 25, rateDen: 1, length: 120 },
    },
  ],
  layer: [
    { ...plainLayer, id: 'bottom', role: 'incoming', shotId: 'in', position: 0 },
    { ...plainLayer, id: 'top', role: 'outgoing', shotId: 'out', position: 1 },
  ],
});
const layers = ['bottom', 'top'];
const ramp = { from: 35, to: 80, percent: 340, pinned: 58 };

test('a ramp that runs through the footage says which frames it takes away, and each way out keeps a picture on all', () => {
  const ramped = applyChanges(document, readyRamp(document, layers, ramp));
  const lost = framesLost(document, ramped, shots, ramp);
  // Between the ends of both shots it plays 340 % of 16 frames and the ways up and down: a known gap at either end.
  expect([lost[0], lost.at(-1)]).toEqual([0, 119]);
  expect(lost).not.toContain(58);
  const remedies = rampRemedies(document, shots, layers, ramp);
  // Nothing is left over to run faster through.
  expect(remedies.map(({ does }) => does.split(' ')[0])).toEqual(['Freeze', 'Play']);
  for (const { changes } of remedies) {
    const after = applyChanges(document, changes);
    const [first, last] = playedRange(after);
    const missing = framesLost(document, after, shots, ramp).filter(
      (frame) => frame >= first && frame <= last,
    );
    expect(missing).toEqual([]);
    expect(after.layers.top.ramp.length).toBe(8);
  }
  // With some left over at the end it runs through that, and no more.
  const longer = { out: { ...shots.out, frameCount: 160 }, in: { ...shots.in, frameCount: 160 } };
  const [slower] = rampRemedies(document, longer, layers, ramp);
  const after = applyChanges(document, slower.changes);
  expect(slower.does).toMatch(/^Slow it down to \d+ %$/);
  expect(framesLost(document, after, longer, ramp)).toEqual([]);
  const percent = after.layers.top.ramp[3];
  const more = readyRamp(document, layers, {
    ...ramp,
    percent: percent + 10,
    pinned: after.layers.top.rampAt,
  });
  expect(framesLost(document, applyChanges(document, more), longer, ramp)).not.toEqual([]);
});
