import { useEffect, useState } from 'react';
import type { Shot } from '@/core/model/shot';
import { call, sentenceOf } from '@/interface/api';
import type { ShotListing, ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';

/** All footage with what is needed to show it, the crossing's own first; null while it is looked up. */
export function useFootage(): {
  footage: ShotMedia[] | null;
  failure: string | null;
  /** Takes in what has become known of a shot. */
  setShot(shot: Shot): void;
} {
  const own = useDocument((state) => state.shots);
  // Footage that is not the crossing's stays apart: nothing of the page is about it before it is used.
  const [others, setOthers] = useState<readonly ShotMedia[] | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  useEffect(() => {
    let here = true;
    const load = async () => {
      const isOwn = new Set(useDocument.getState().shots.map(({ shot }) => shot.id));
      const wanted = (await call<ShotListing[]>('/api/shots')).filter(({ id }) => !isOwn.has(id));
      return Promise.all(wanted.map(({ id }) => call<ShotMedia>(`/api/shots/${id}`)));
    };
    load().then(
      (media) => here && setOthers(media),
      (error: unknown) => here && setFailure(sentenceOf(error)),
    );
    return () => {
      here = false;
    };
  }, []);
  const isOwn = new Set(own.map(({ shot }) => shot.id));
  return {
    footage: others && [...own, ...others.filter(({ shot }) => !isOwn.has(shot.id))],
    failure,
    setShot(shot) {
      setOthers(
        (now) => now?.map((media) => (media.shot.id === shot.id ? { ...media, shot } : media)) ?? null,
      );
    },
  };
}
