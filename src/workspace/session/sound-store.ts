import { create } from 'zustand';
import type { Finding } from '@/core/checks/findings';
import type { Heard } from '@/core/checks/sound-checks';
import type { PieceWave } from '@/core/sound/peaks';
import type { Loudness } from '@/render/sound';
import { call } from '@/interface/api';
import type { SoundListing } from '@/wire/answers';

/** What the page knows of sound beside the document. */
interface SoundState {
  /** Sounds that were brought in; null before they are known. */
  sounds: readonly SoundListing[] | null;
  /** The piece in hand. */
  pieceId: string | null;
  /** The piece that is heard alone; null: all. */
  alone: string | null;
  /** Whether stepping is heard. */
  stepsHeard: boolean;
  waves: Readonly<Record<string, PieceWave>>;
  /** Pieces that are silent because the file they come from was deleted. */
  missing: readonly string[];
  /** Of all that is played; null while it is measured. */
  loudness: Loudness | null;
  /** ms by which frames were shown off their sound lately while playing: 95 % of them within, and the farthest; null: nothing has played yet. */
  skew: { high: number; most: number } | null;
  /** What was heard last, and what is wrong with it. */
  heard: Heard | null;
  findings: readonly Finding[];
  failure: string | null;
}

const fresh: SoundState = {
  sounds: null,
  pieceId: null,
  alone: null,
  stepsHeard: false,
  waves: {},
  missing: [],
  loudness: null,
  skew: null,
  heard: null,
  findings: [],
  failure: null,
};

export const useSound = create<SoundState>(() => fresh);
export const setSound = useSound.setState;

export function resetSound() {
  setSound(fresh, true);
}

/** Reads the list of sounds anew. */
export async function readSounds(): Promise<readonly SoundListing[]> {
  const sounds = await call<SoundListing[]>('/api/sounds');
  setSound({ sounds });
  return sounds;
}
