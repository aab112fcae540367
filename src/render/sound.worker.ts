import * as Comlink from 'comlink';
import type { CrossingDocument } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { LoudnessMeter } from '@/core/sound/loudness';
import type { Mixer } from '@/core/sound/mixer';
import { decibelsOf } from '@/core/sound/stereo';
import type { ShotMedia } from '@/wire/answers';
import { type MixedPart, SoundEngine } from './sound';

let engine: SoundEngine | null = null;
let mixer: Mixer | null = null;
let meter = new LoudnessMeter();

/** What the page calls; every call before `open` but that one does nothing. */
const service = {
  open(document: CrossingDocument, media: ShotMedia[]) {
    engine = new SoundEngine(document, media);
  },
  change: (changes: RowChange[]) => engine?.change(changes),
  replaceDocument: (document: CrossingDocument) => engine?.replaceDocument(document),
  takeShots: (media: ShotMedia[]) => engine?.takeShots(media),
  takeCoverage: (coverage: Float32Array) => engine?.takeCoverage(coverage),
  setDraft: (changes: RowChange[] | null) => engine?.setDraft(changes),
  /** Mixes from a crossing sample on, and gives the first part. */
  async start(from: number, count: number, alone: string | null): Promise<MixedPart | null> {
    if (!engine) return null;
    mixer = engine.mixer(from, alone);
    meter = new LoudnessMeter();
    return service.next(count);
  },
  /** The part that follows. */
  async next(count: number): Promise<MixedPart | null> {
    if (!mixer) return null;
    const sound = await mixer.next(count);
    meter.add(sound);
    const part: MixedPart = {
      sound,
      peaks: sound.map((channel) =>
        decibelsOf(channel.reduce((most, x) => Math.max(most, Math.abs(x)), 0)),
      ) as [number, number],
      momentary: meter.momentary(),
    };
    return Comlink.transfer(part, [sound[0].buffer, sound[1].buffer]);
  },
  waves: async () => (await engine?.waves()) ?? [],
  missing: async () => (await engine?.missing()) ?? [],
  heard: async () => (await engine?.heard()) ?? null,
};

export type SoundService = typeof service;

Comlink.expose(service);
