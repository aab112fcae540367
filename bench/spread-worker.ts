import path from 'node:path';
import { heldAgainstTruth } from './carry';
import { draftedAgainstTruth } from './draft';
import { rowsOf } from './fit';
import { makePassOf } from './passes/make';
import type { Piece } from './spread';

const works: Record<Piece['work'], (piece: Piece) => Promise<unknown>> = {
  draw: ({ of, name }) => {
    const [set, place] = of.split('=');
    return makePassOf(set as Parameters<typeof makePassOf>[0], name, place);
  },
  follow: ({ of, name }) => heldAgainstTruth(name, path.join(of, name)),
  fit: ({ of, name }) => rowsOf(path.join(of, name)),
  draft: ({ of, name }) => draftedAgainstTruth(path.join(of, name)),
};

process.on('message', async (piece: Piece) => {
  try {
    process.send!({ result: await works[piece.work](piece) });
  } catch (error) {
    process.send!({ error: error instanceof Error ? (error.stack ?? error.message) : String(error) });
  }
});
