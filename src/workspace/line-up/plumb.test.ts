import { documentOf } from '@/core/document/document';
import { asFilmed, lensOf } from '@/core/geometry/lens';
import { plainLayer } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { resetView, setView, useView } from '../view/view-store';
import {
  beginPlumb,
  endLine,
  endPlumb,
  plumbBack,
  plumbBegun,
  plumbOfferNow,
  pressPlumb,
  setLens,
  takeLevel,
  takeStraight,
  usePlumb,
} from './plumb';

/** Lines along what should be straight, on the stores as the page holds them. */

const shot = {
  ...{ id: 's', name: 'Sill', width: 1000, height: 500, rotation: 0, rate: { num: 25, den: 1 } },
  ...{ frameCount: 80, constantRate: true, motion: null },
} as unknown as Shot;
const crossing = {
  ...{ id: 'c', name: 'T', plan: 'pass-by' as const, width: 1000, height: 500, rateNum: 25, rateDen: 1 },
  ...{
    length: 60,
    inFrame: 0,
    outFrame: null,
    blend: 'display' as const,
    moveShutter: 0,
    blurBorder: 'extend' as const,
  },
};
const layers = [
  { ...plainLayer, id: 'in', role: 'incoming' as const, shotId: 's', position: 0 },
  { ...plainLayer, id: 'out', role: 'outgoing' as const, shotId: 's', position: 1 },
];
Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const layer = (id: string) => useDocument.getState().document!.layers[id];
const press = (...places: number[]) => {
  for (let i = 0; i < places.length; i += 2) pressPlumb(places[i], places[i + 1]);
};

beforeEach(() => {
  endPlumb();
  useDocument.setState({
    document: documentOf({ crossing: [crossing], layer: layers }),
    shots: [{ shot } as ShotMedia],
    history: [],
  });
  resetView(5, null);
});

test('meanwhile the shot is seen alone and whole; afterwards what was seen before', () => {
  setView({ view: 'matte' });
  beginPlumb(layer('in'));
  expect(useView.getState()).toMatchObject({ view: 'result', solo: 'in' });
  endPlumb();
  expect(useView.getState()).toMatchObject({ view: 'matte', solo: null });
  // The traced one by its own view, so that nothing of it is cut; a view that was plain stays so.
  setView({ view: 'plain', solo: 'in' });
  beginPlumb(layer('out'));
  expect(useView.getState().view).toBe('plain');
  endPlumb();
  expect(useView.getState()).toMatchObject({ view: 'plain', solo: 'in' });
  setView({ view: 'result' });
  endPlumb();
  expect(useView.getState().view).toBe('result');
});

test('places become lines, are taken back one by one, and a single place is no line', () => {
  beginPlumb(layer('in'));
  press(10, 10);
  endLine();
  expect(usePlumb.getState()).toMatchObject({ lines: [], open: [] });
  press(10, 10, 20, 300);
  endLine();
  press(0, 0, 5, 5);
  plumbBack();
  expect(usePlumb.getState()).toMatchObject({ lines: [[10, 10, 20, 300]], open: [0, 0] });
  plumbBack();
  plumbBack();
  plumbBack();
  expect(usePlumb.getState()).toMatchObject({ lines: [], open: [] });
  expect(plumbOfferNow()).toMatchObject({ turn: null, lens: null });
  endPlumb();
  expect([plumbBegun(), plumbOfferNow()]).toEqual([false, null]);
});

test('two places turn the shot, more undo its lens, each as one edit that fills the frame and can be undone', () => {
  beginPlumb(layer('in'));
  takeLevel();
  takeStraight();
  expect(useDocument.getState().history).toHaveLength(0);
  press(200, 250, 800, 250 + 600 * Math.tan(Math.PI / 90));
  endLine();
  expect(plumbOfferNow()!.turn).toBeCloseTo(-2, 9);
  takeLevel();
  expect(layer('in').turn).toBe(-2);
  expect(layer('in').scale).toBeGreaterThan(100);
  expect(layer('out')).toEqual(layers[1]);
  expect(plumbOfferNow()!.turn).toBeCloseTo(0, 1);
  expect(useDocument.getState().history.map(({ label }) => label)).toEqual(['Level the incoming shot']);

  // Bent by a known lens, the line asks for it; a straight one for none.
  const lens = lensOf(0.1, shot)!;
  press(...[100, 400, 900].flatMap((x) => asFilmed(lens, x, 90)));
  endLine();
  const { lambda, off, offBefore } = plumbOfferNow()!.lens!;
  expect(lambda).toBeCloseTo(0.1, 3);
  expect(off).toBeLessThan(0.01);
  expect(offBefore).toBeGreaterThan(1);
  const before = layer('in').scale;
  takeStraight();
  expect(layer('in').lens).toBeCloseTo(0.1, 3);
  // This way the borders draw in: it is enlarged as well.
  expect(layer('in').scale).toBeGreaterThan(before);
  useDocument.getState().undo();
  expect([layer('in').lens, layer('in').scale]).toEqual([0, before]);
  plumbBack();
  press(100, 90, 400, 90, 900, 90);
  endLine();
  expect(plumbOfferNow()!.lens).toBeNull();

  // Typed, it fills the frame just so.
  setLens(layer('out'), 0.2);
  expect(layer('out').scale).toBeGreaterThan(105);
});
