import { documentOf } from '@/core/document/document';
import { setCrossing } from '@/core/actions/layer-actions';
import { plainCrossing } from '@/core/document/tables';
import { useDocument } from './document-store';
import { followDocument } from './follow-document';

/** A worker that holds the document too, and does not take everything. */
Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const crossing = { ...plainCrossing, id: 'c', name: 'A', plan: 'pass-by' as const, width: 64, height: 48 };

test('an edit that a worker cannot take is answered by the whole document as it is by then', async () => {
  const rates = { rateNum: 25, rateDen: 1, length: 9 };
  useDocument.setState({ document: documentOf({ crossing: [{ ...crossing, ...rates }] }), history: [] });
  const heard: string[] = [];
  let failing = 0;
  const take = async (what: string) => {
    if (failing > 0) {
      failing--;
      throw new Error('The worker has lost its way.');
    }
    heard.push(what);
  };
  const failures: string[] = [];
  const stop = followDocument(
    {
      change: (changes) => take(`change to ${(changes[0].after as { name: string }).name}`),
      replaceDocument: (document) => take(`all of ${document.crossing.name}`),
    },
    ({ message }) => failures.push(message),
  );
  const rename = async (name: string) => {
    const { document, edit } = useDocument.getState();
    edit('Rename', setCrossing(document!, { name }));
    await new Promise((done) => setImmediate(done));
  };
  await rename('B');
  failing = 1;
  await rename('C');
  expect(heard).toEqual(['change to B', 'all of C']);
  expect(failures).toEqual([]);
  failing = 2;
  await rename('D');
  expect(failures).toEqual(['The worker has lost its way.']);
  stop();
  failing = 0;
  await rename('E');
  expect(heard).toHaveLength(2);
});
