import type { ShotMedia } from '@/wire/answers';
import type { Commit } from './commit-storage';
import type { SetBack } from './save-queue';

/** What became of the steps that had not reached the server when it turned out to hold something else. */
export interface Rejoined {
  /** The one that the server refused. */
  refused: Commit | undefined;
  /** Kept apart, with the sentence why; the refused one first. */
  aside: { step: Commit; reason: string }[];
  /** How many were joined to what the server holds. */
  joined: number;
}

/** The edit that a step does, undoes or redoes. */
export function editIdOf(step: Commit): string {
  return step.kind === 'do' ? step.edit.id : step.editId;
}

function labelOf(step: Commit | undefined): string {
  if (!step) return 'A change';
  if (step.kind === 'do') return `“${step.edit.label}”`;
  return step.kind === 'undo' ? 'Undoing' : 'Redoing';
}

/** The sentence that tells a person what happened to their unsaved changes. */
export function rejoinNotice(why: SetBack, { refused, aside, joined }: Rejoined): string {
  const more = aside.length - (refused ? 1 : 0);
  if (why.kind === 'refused') {
    const others = more === 1 ? '1 later change was' : `${more} later changes were`;
    return (
      `${labelOf(refused)} could not be saved: ${why.reason} It was taken back and set aside` +
      (more > 0 ? `; ${others} set aside with it.` : '. Work goes on.')
    );
  }
  return (
    'Another window changed this crossing. This window now shows it' +
    (joined > 0 ? `, with your ${joined} unsaved ${joined === 1 ? 'change' : 'changes'} added` : '') +
    (more > 0 ? `; ${more} of yours met the same points and ${more === 1 ? 'was' : 'were'} set aside` : '') +
    '.'
  );
}

/** What stands for a shot that the server does not know any more. */
export function lostShot(id: string, { width, height }: { width: number; height: number }): ShotMedia {
  const colour = { matrix: 'bt709' as const, fullRange: false };
  const facts = { rotation: 0 as const, rate: { num: 25, den: 1 }, frameCount: 1, colour, motion: null };
  return {
    shot: { id, name: 'Deleted shot', width, height, ...facts },
    originalName: '',
    ...{ url: '', timestamps: [0], keyFrames: [0], work: null },
    ...{ stills: true, deleted: true, hasSound: false, keepsSound: false },
  };
}
