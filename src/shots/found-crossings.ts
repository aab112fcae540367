import { create } from 'zustand';
import type { FoundCrossing } from '@/core/find/crossings';
import { call, sentenceOf } from '@/interface/api';
import { type Running, startWorker, told } from '@/interface/start-worker';
import type { FindService } from '@/render/find.worker';
import type { ShotMedia } from '@/wire/answers';

/** A shot that is looked through for crossings, in a worker of its own. */
export interface LookingThrough {
  shotId: string;
  /** 0 to 1. */
  share: number;
  /** As far as it has been looked at. */
  found: FoundCrossing[];
}

interface FindState {
  under: LookingThrough | null;
  /** What was found lately, by shot: before a list that is read anew has it. */
  done: Record<string, FoundCrossing[]>;
  failure: { shotId: string; says: string } | null;
}

/** One shot is looked through at a time, and goes on while other pages are opened. */
export const useFinding = create<FindState>(() => ({ under: null, done: {}, failure: null }));

let running: Running<FindService> | null = null;
let held = false;

/** Lets looking wait while a crossing is open, and go on after that. */
export function holdFinding(on: boolean) {
  held = on;
  void running?.service.hold(on);
}

/** Looks a shot through for what crosses it, and keeps what is found; another that is looked through is given up. */
export async function findCrossings(shotId: string) {
  stopFinding();
  useFinding.setState({ under: { shotId, share: 0, found: [] }, failure: null });
  const mine = startWorker<FindService>(
    new Worker(new URL('../render/find.worker.ts', import.meta.url), { type: 'module' }),
  );
  running = mine;
  if (held) void mine.service.hold(true);
  const set = (part: Partial<LookingThrough>) =>
    running === mine && useFinding.setState(({ under }) => ({ under: under && { ...under, ...part } }));
  try {
    const media = await call<ShotMedia>(`/api/shots/${shotId}`);
    const looking = mine.service.lookThrough(
      media,
      told((share: number) => set({ share })),
      told((found: FoundCrossing[]) => set({ found })),
    );
    const found = await Promise.race([looking, mine.failed]);
    if (running !== mine) return;
    await call(`/api/shots/${shotId}/found`, 'PUT', { found });
    useFinding.setState(({ done }) => ({ done: { ...done, [shotId]: found } }));
  } catch (error) {
    if (running === mine) useFinding.setState({ failure: { shotId, says: sentenceOf(error) } });
  } finally {
    if (running === mine) {
      running = null;
      useFinding.setState({ under: null });
    }
    mine.end();
  }
}

/** Gives up looking; nothing of it is kept. */
export function stopFinding() {
  running?.end();
  running = null;
  useFinding.setState({ under: null });
}
