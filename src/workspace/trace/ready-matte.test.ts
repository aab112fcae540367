import { documentOf } from '@/core/document/document';
import { plainCrossing, plainLayer } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { resetView } from '../view/view-store';
import { cutByMatte, dropMatte, otherShape } from './ready-matte';
import { tracedNow } from '../session/traced';

/** A matte that is a picture, on the stores as the page holds them; what the server would answer is told here. */

const shotOf = (id: string, width: number, height: number): Shot => ({
  ...{ id, name: id, width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 80 },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
});
const mediaOf = (shot: Shot) => ({ shot }) as ShotMedia;
const asked: string[] = [];
let answer: ShotMedia;
Object.assign(globalThis, {
  localStorage: { getItem: () => null, setItem: () => undefined },
  fetch: (url: string) => {
    asked.push(url);
    return Promise.resolve(Response.json(answer));
  },
});

const set = { id: 'c', name: 'T', plan: 'pass-by' as const, width: 1280, height: 720, length: 60 };

beforeEach(() => {
  asked.length = 0;
  const layer = { ...plainLayer, id: 'l', role: 'outgoing' as const, shotId: 'trolley', position: 0 };
  useDocument.setState({
    document: documentOf({
      crossing: [{ ...plainCrossing, ...set, rateNum: 25, rateDen: 1 }],
      layer: [layer],
    }),
    shots: [mediaOf(shotOf('trolley', 1280, 720))],
    history: [],
  });
  resetView(5, null);
});

test('a shot of the footage becomes the traced layer’s matte, in one edit, and is taken away again', async () => {
  answer = mediaOf(shotOf('matte', 640, 360));
  expect(await cutByMatte('matte', 12)).toBeNull();
  expect(asked).toEqual(['/api/shots/matte']);
  expect(tracedNow()!.layer).toMatchObject({ matteId: 'matte', matteFrom: 12, matteTurned: false });
  expect(useDocument.getState().shots.map(({ shot }) => shot.id)).toEqual(['trolley', 'matte']);
  expect(useDocument.getState().history.map(({ label }) => label)).toEqual(['Cut by “matte”']);
  dropMatte();
  expect(tracedNow()!.layer).toMatchObject({ matteId: null, matteFrom: 0 });
});

test('one of another shape is taken, and that is said', async () => {
  answer = mediaOf(shotOf('square', 400, 400));
  expect(await cutByMatte('square', 0)).toBe(
    '“square” is 400 × 400, the shot 1280 × 720: it is stretched over it.',
  );
  expect(tracedNow()!.layer.matteId).toBe('square');
  // A row or a column more is no other shape.
  expect(otherShape(shotOf('a', 1280, 720), shotOf('b', 1282, 720))).toBeNull();
  expect(otherShape(shotOf('a', 1280, 720), shotOf('b', 1440, 720))).toContain('1440 × 720');
});

test('without a crossing nothing is done', async () => {
  useDocument.setState({ document: null });
  answer = mediaOf(shotOf('matte', 640, 360));
  expect(await cutByMatte('matte', 12)).toBe('Choose a shot first.');
});
