import { useEffect, useRef, useState } from 'react';
import type { Role } from '@/core/model/choices';
import { intakesOf } from '@/footage/stills';
import { stillRates } from '@/shots/rates';
import { bringIn, useUploads } from '@/shots/uploads';
import type { ShotListing } from '@/wire/answers';

/** Stills brought in here run at this rate, as Footage has it by default. */
const stillRate = stillRates[2].rate;
/** ms between two looks whether a file has been converted. */
const lookAgain = 2000;

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
  /** The file's. */
  name: string;
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
  /** What files on their way are meant for, with the shot's id once they are in; one that is converted has none yet. */
  const [awaited, setAwaited] = useState<Awaited[]>([]);
  const known = useRef(new Set(shots.map(({ id }) => id)));
  const uploads = useUploads((state) => state.uploads);
  const converting = uploads.some(({ state }) => state === 'converting');
  useEffect(() => {
    const isIn = (wanted: string | null) => shots.some(({ id }) => id === wanted);
    const fresh = shots.filter(({ id }) => !known.current.has(id)).reverse();
    fresh.forEach(({ id }) => known.current.add(id));
    // What was converted is known by its file's name; so is what is listed before it is answered.
    const claimed = new Set(awaited.map(({ shotId }) => shotId));
    const unclaimed = fresh.filter(({ id }) => !claimed.has(id));
    const come = awaited.flatMap((each) => {
      const at = unclaimed.findIndex(({ originalName }) => originalName === each.name);
      const shotId = each.shotId ?? (at < 0 ? null : unclaimed.splice(at, 1)[0].id);
      return isIn(shotId) ? [{ ...each, shotId }] : [];
    });
    if (come.length === 0) return;
    setChosen((before) => ({
      ...before,
      ...Object.fromEntries(come.map(({ role, shotId }) => [role, shotId])),
    }));
    const done = new Set(come.map(({ key }) => key));
    setAwaited(awaited.filter(({ key }) => !done.has(key)));
  }, [shots, awaited]);
  useEffect(() => {
    if (!converting || awaited.length === 0) return;
    const timer = setInterval(onArrived, lookAgain);
    return () => clearInterval(timer);
  }, [converting, awaited.length, onArrived]);
  const take = (files: File[], role: Role, onGone: () => void) => {
    // Several files at once fill the roles from this one on.
    const order = [...roles.slice(roles.indexOf(role)), ...roles.slice(0, roles.indexOf(role))];
    const intakes = intakesOf(files);
    const meant = order
      .slice(0, intakes.length)
      .map((each, k) => ({ role: each, key: Symbol(each), name: intakes[k].name, shotId: null }));
    setAwaited((before) => [...before, ...meant]);
    void bringIn(files, stillRate, Infinity, onArrived, (which, taken) => {
      const ended = meant[which]?.key;
      if (!taken) {
        setAwaited((before) => before.filter(({ key }) => key !== ended));
        onGone();
      } else if ('id' in taken)
        setAwaited((before) =>
          before.map((each) => (each.key === ended ? { ...each, shotId: taken.id } : each)),
        );
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
    setWaits(false);
    unseen.current = true;
  };
  return { waits, begin, stop };
}
