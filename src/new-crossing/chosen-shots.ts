import { useEffect, useRef, useState } from 'react';
import type { Role } from '@/core/model/choices';
import { intakesOf } from '@/footage/stills';
import { stillRates } from '@/shots/rates';
import { bringIn } from '@/shots/uploads';
import type { ShotListing } from '@/wire/answers';

/** Stills brought in here run at this rate, as Footage has it by default. */
const stillRate = stillRates[2].rate;

export interface ShotsToChoose {
  /** The newest first. */
  shots: ShotListing[];
  /** A shot to begin with, as the outgoing one. */
  first?: string;
  onArrived(): void;
}

export type Chosen = Record<Role, string>;

/** A role that a file on its way is meant for. */
interface Awaited {
  role: Role;
  key: symbol;
  /** What it is or will be, once it has arrived. */
  shotId: string | null;
}

/**
 * The shots in their roles. Files brought in right here take the roles that they were meant for as they arrive; of the
 * two brought in last the older goes, the newer comes: the order in which they were chosen.
 */
export function useChosenShots({ shots, first, onArrived }: ShotsToChoose, roles: readonly Role[]) {
  const begin = first ?? (shots[1] ?? shots[0])?.id ?? '';
  const rest = shots.filter(({ id }) => id !== begin);
  const [chosen, setChosen] = useState<Chosen>({
    outgoing: begin,
    incoming: rest[0]?.id ?? '',
    passing: rest[1]?.id ?? rest[0]?.id ?? '',
  });
  /** What files on their way are meant for. */
  const [awaited, setAwaited] = useState<Awaited[]>([]);
  useEffect(() => {
    const come = awaited.filter(({ shotId }) => shots.some(({ id }) => id === shotId));
    if (come.length === 0) return;
    setChosen((before) => ({
      ...before,
      ...Object.fromEntries(come.map(({ role, shotId }) => [role, shotId])),
    }));
    const done = new Set(come.map(({ key }) => key));
    setAwaited(awaited.filter(({ key }) => !done.has(key)));
  }, [shots, awaited]);
  const take = (files: File[], role: Role, onGone: () => void) => {
    // Several files at once fill the roles from this one on.
    const order = [...roles.slice(roles.indexOf(role)), ...roles.slice(0, roles.indexOf(role))];
    const intakes = intakesOf(files);
    const meant = order
      .slice(0, intakes.length)
      .map((each) => ({ role: each, key: Symbol(each), shotId: null }));
    setAwaited((before) => [...before, ...meant]);
    void bringIn(files, stillRate, Infinity, onArrived, (which, taken) => {
      const ended = meant[which]?.key;
      if (!taken) {
        setAwaited((before) => before.filter(({ key }) => key !== ended));
        onGone();
      } else {
        const shotId = 'id' in taken ? taken.id : taken.jobId;
        setAwaited((before) => before.map((each) => (each.key === ended ? { ...each, shotId } : each)));
      }
    });
  };
  return { chosen, setChosen, take, coming: awaited.length > 0 };
}

/**
 * Does something at once, or as soon as the files on their way are in; where one of them was refused it is asked for once more, as the
 * shots are other ones than were meant.
 *
 * @param onGone told when it was not done for that.
 */
export function useWhenIn(coming: boolean, act: () => Promise<void>, onGone: () => void) {
  const [waits, setWaits] = useState(false);
  const unseen = useRef(false);
  /** As `waits`, for a file that is refused long after it was chosen. */
  const waiting = useRef(false);
  waiting.current = waits;
  useEffect(() => {
    if (!waits || coming) return;
    setWaits(false);
    void act();
    // What is done is what holds once the last file has come.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [waits, coming]);
  const begin = () => {
    if (unseen.current) {
      unseen.current = false;
      onGone();
    } else if (coming) setWaits(true);
    else void act();
  };
  const stop = () => {
    if (waiting.current) onGone();
    else unseen.current = true;
    setWaits(false);
  };
  return { waits, begin, stop };
}
