import fc from 'fast-check';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-edits-'));

/* The modules read KIV_DATA when they are first used. */
import { randomUUID } from 'node:crypto';
import { applyChanges } from '../src/core/document/document';
import { inverseChanges, type RowChange } from '../src/core/document/edit';
import { inconsistencyOf, inconsistencyOfWhole } from '../src/core/document/invariants';
import { validatedCommit } from '../src/server/bodies';
import { takeCommit } from '../src/server/commits';
import { createCrossing, openCrossing, readHistory } from '../src/server/crossings';
import { readDocument } from '../src/server/document-rows';
import { forgetDocument } from '../src/server/open-documents';
import { bringInStill } from './still';
import { randomEdit } from './random-edits';
import { rowsById } from './rows-by-id';

/** Any run of edits, undos and redos: in memory, on the server, and read anew from the disk it is one document. */

let shotId = '';
beforeAll(async () => {
  shotId = await bringInStill();
});

/** Steps of a hand: what is done next is drawn from the numbers. */
const hand = fc.array(fc.array(fc.nat(1e6), { minLength: 60, maxLength: 60 }), {
  minLength: 1,
  maxLength: 40,
});

test('edits, undos, redos and reloads: documents are equal, and what must hold holds', () => {
  fc.assert(
    fc.property(hand, (steps) => {
      const id = createCrossing({
        ...{ name: 'By chance', plan: 'pass-by' },
        ...{ outgoingShotId: shotId, incomingShotId: shotId },
      });
      let document = readDocument(id);
      const first = rowsById(document);
      let revision = 0;
      const done: { editId: string; changes: RowChange[] }[] = [];
      const undone: typeof done = [];
      const send = (step: object) => {
        const body = { requestId: randomUUID(), baseRevision: revision, ...step };
        // As it comes over the wire: through JSON, checked by its class.
        const sent = validatedCommit(JSON.parse(JSON.stringify(body)));
        revision = takeCommit(id, sent);
        // An answer that was lost is asked for again.
        if (revision % 7 === 0) expect(takeCommit(id, sent)).toBe(revision);
      };
      const take = (changes: RowChange[]) => {
        document = applyChanges(document, changes);
        // What was touched says as much as all there is.
        expect([inconsistencyOf(document, changes), inconsistencyOfWhole(document)]).toEqual([null, null]);
      };
      for (const numbers of steps) {
        let at = 1;
        const chance = (below: number) => (below > 0 ? numbers[at++ % numbers.length] % below : 0);
        const kind = numbers[0] % 10;
        if (kind < 2 && done.length > 0) {
          const step = done.pop()!;
          take(inverseChanges(step.changes));
          send({ kind: 'undo', editId: step.editId });
          undone.push(step);
        } else if (kind < 4 && undone.length > 0) {
          const step = undone.pop()!;
          take(step.changes);
          send({ kind: 'redo', editId: step.editId });
          done.push(step);
        } else {
          const { label, changes } = randomEdit(document, chance);
          if (changes.length === 0) continue;
          const before = document;
          take(changes);
          expect(rowsById(applyChanges(document, inverseChanges(changes)))).toEqual(rowsById(before));
          const editId = randomUUID();
          send({ kind: 'do', edit: { id: editId, label, changes } });
          done.push({ editId, changes });
          undone.length = 0;
        }
        // Sometimes the server has nothing in memory, as after a start.
        if (numbers[59] % 5 === 0) forgetDocument(id);
      }
      forgetDocument(id);
      expect(rowsById(openCrossing(id).document)).toEqual(rowsById(document));
      expect(readHistory(id).history.map((entry) => [entry.id, entry.undone])).toEqual([
        ...done.map(({ editId }) => [editId, false]),
        ...[...undone].reverse().map(({ editId }) => [editId, true]),
      ]);
      const last = rowsById(document);
      const all = [...done];
      for (const step of [...all].reverse()) {
        take(inverseChanges(step.changes));
        send({ kind: 'undo', editId: step.editId });
      }
      if (all.length === done.length && undone.length === 0)
        expect(rowsById(readDocument(id))).toEqual(first);
      for (const step of all) {
        take(step.changes);
        send({ kind: 'redo', editId: step.editId });
      }
      expect(rowsById(readDocument(id))).toEqual(last);
    }),
    { numRuns: Number(process.env.KIV_RUNS ?? 60) },
  );
});
