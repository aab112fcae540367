import { rateOf } from '@/core/time/rate';
import type { RowChange } from '@/core/document/edit';
import type { Table } from '@/core/document/tables';
import { type Heard, soundFindings } from '@/core/checks/sound-checks';
import { applyChanges, layersInOrder, playedRange } from '@/core/document/document';
import { samplesPerFrame } from '@/core/sound/behind';
import { soundSignature } from '@/core/sound/signature';
import { mixRate } from '@/core/model/limits';
import { type Running, startWorker } from '@/interface/start-worker';
import type { SoundService } from '@/render/sound.worker';
import { useDocument } from '../document/document-store';
import { followDocument } from '../document/follow-document';
import type { PreviewClient } from '../preview/preview-client';
import { useView } from '../view/view-store';
import { keepPieceInHand } from './sound-commands';
import { SoundPlayer } from './sound-player';
import { resetSound, setSound, useSound } from '../session/sound-store';

/** ms after the last change at which waves and loudness are worked out anew. */
const wavesAfter = 120;
const loudnessAfter = 500;
/** ms between two looks at the audio clock, which the picture follows. */
const clockEvery = 200;

/** Tables whose rows sound depends on; outlines only through what is covered. */
const heardTables: readonly Table[] = ['crossing', 'layer', 'move', 'piece', 'mark'];
const isHeard = (draft: readonly RowChange[] | null) =>
  draft?.some(({ table }) => heardTables.includes(table)) === true;

/** The page's end of the sound worker: hands it the document, plays, and has waves and loudness worked out. */
class SoundClient {
  private readonly running: Running<SoundService>;
  readonly player: SoundPlayer;
  private readonly ends: (() => void)[];
  private wavesTimer: ReturnType<typeof setTimeout> | undefined;
  private loudnessTimer: ReturnType<typeof setTimeout> | undefined;
  /** What was last worked out. */
  private signature = '';

  constructor() {
    this.running = startWorker<SoundService>(
      new Worker(new URL('../../render/sound.worker.ts', import.meta.url), { type: 'module' }),
    );
    const { service, failed } = this.running;
    failed.catch((error: Error) => setSound({ failure: error.message }));
    this.player = new SoundPlayer(service, () => useSound.getState().alone);
    const { document, shots } = useDocument.getState();
    void service.open(document!, shots);
    const { coverage } = useView.getState();
    if (coverage) void service.takeCoverage(coverage);
    this.ends = [
      followDocument(service, (error) => setSound({ failure: error.message })),
      useDocument.subscribe((now, before) => {
        if (now.shots !== before.shots) void service.takeShots(now.shots);
        // What a hand was about to do is done, or gone.
        if (now.document !== before.document || now.shots !== before.shots) this.changed(null);
      }),
      useView.subscribe((now, before) => {
        if (now.coverage !== before.coverage && now.coverage) {
          void service.takeCoverage(now.coverage);
          this.changed(now.draft);
        }
        if (now.draft !== before.draft && (isHeard(now.draft) || isHeard(before.draft))) {
          void service.setDraft(now.draft);
          this.changed(now.draft);
        }
      }),
      useSound.subscribe((now, before) => {
        if (now.alone !== before.alone) void this.player.changed();
      }),
    ];
    this.changed(null);
  }

  /** What is heard or seen of sound may be another now: then it is worked out anew. */
  private changed(draft: readonly RowChange[] | null) {
    const { document } = useDocument.getState();
    const { coverage, playing } = useView.getState();
    if (!document) return;
    const signature = soundSignature(draft ? applyChanges(document, draft) : document, coverage ?? []);
    if (signature === this.signature) return;
    this.signature = signature;
    if (playing) void this.player.changed();
    clearTimeout(this.wavesTimer);
    this.wavesTimer = setTimeout(() => void this.readWaves(), wavesAfter);
    clearTimeout(this.loudnessTimer);
    setSound({ loudness: null });
    this.loudnessTimer = setTimeout(() => void this.listen(), loudnessAfter);
  }

  private async readWaves() {
    const { signature } = this;
    try {
      const waves = await this.running.service.waves();
      const missing = await this.running.service.missing();
      if (signature === this.signature)
        setSound({ waves: Object.fromEntries(waves.map((wave) => [wave.id, wave])), missing, failure: null });
    } catch (error) {
      setSound({ failure: `A sound could not be read: ${(error as Error).message}` });
    }
  }

  private async listen() {
    const { signature } = this;
    // The lane shows the error in place of the waves.
    const found = await this.running.service.heard().catch(() => null);
    if (signature !== this.signature || !found) return;
    setSound({ loudness: found.loudness });
    this.say(found.heard);
  }

  private say(heard: Heard) {
    const { document, shots } = useDocument.getState();
    if (!document) return;
    const silent = layersInOrder(document).filter((layer) => {
      const media = shots.find(({ shot }) => shot.id === layer.shotId);
      const { pieces } = document;
      const sounds = Object.values(pieces).some(
        ({ source, sourceId, muted }) =>
          !muted &&
          ((source === 'layer' && sourceId === layer.id) || (source === 'shot' && sourceId === layer.shotId)),
      );
      return media?.keepsSound === true && layer.visible && !sounds;
    });
    const { coverage } = useView.getState();
    setSound({ heard, findings: soundFindings(document, heard, coverage ?? [], silent) });
  }

  close() {
    clearTimeout(this.wavesTimer);
    clearTimeout(this.loudnessTimer);
    this.ends.forEach((end) => end());
    this.player.close();
    this.running.end();
  }
}

let client: SoundClient | null = null;

/** Starts what sound needs, unless it is there already; a crossing without sound needs nothing. */
export function wakeSound(): SoundClient | null {
  if (!client && useDocument.getState().document) client = new SoundClient();
  return client;
}

export function soundReading() {
  return client?.player.reading() ?? null;
}

/** ms after opening at which a crossing's sound is looked at. */
const lookAfter = 2500;

/** Looks at a crossing's sound once its pictures are there; returns what ends sound with the crossing. */
export function startSound(): () => void {
  const timer = setTimeout(() => {
    if (sounds()) wakeSound();
  }, lookAfter);
  const stopKeeping = keepPieceInHand();
  return () => {
    clearTimeout(timer);
    stopKeeping();
    client?.close();
    client = null;
    resetSound();
  };
}

/** Whether anything sounds. */
function sounds(): boolean {
  return Object.values(useDocument.getState().document?.pieces ?? {}).some(({ muted }) => !muted);
}

/** Frames after which it is said how far picture and sound were apart. */
const skewsKept = 50;

/** Plays picture and sound together until the returned function is called: the audio clock leads. */
export function playTogether(preview: PreviewClient): () => void {
  const { document } = useDocument.getState();
  if (!document || !sounds()) {
    preview.play(null);
    return () => preview.pause();
  }
  let over = false;
  let timer: ReturnType<typeof setInterval> | undefined;
  const { player } = wakeSound()!;
  const rate = rateOf(document.crossing);
  const range = playedRange(document);
  const { frame: at } = useView.getState();
  const frame = at < range[0] || at > range[1] ? range[0] : at;
  const skews: number[] = [];
  setSound({ skew: null });
  const stopWatching = preview.onPlayback(({ at: seenAt, round, frame: shown }) => {
    const heard = seenAt === null ? null : player.framesAt(seenAt);
    if (heard === null) return;
    const along = round * (range[1] - range[0] + 1) + shown - frame;
    skews.push((Math.abs(heard - along) * samplesPerFrame(rate) * 1000) / mixRate);
    if (skews.length < skewsKept) return;
    const sorted = skews.splice(0).sort((a, b) => a - b);
    setSound({ skew: { high: sorted[Math.floor(skewsKept * 0.95)], most: sorted[skewsKept - 1] } });
  });
  player.start({ frame, range, rate }).then(
    (startedAt) => {
      if (over || startedAt === null) return;
      preview.play({ frame, startedAt });
      timer = setInterval(() => {
        const now = player.startedAt();
        if (now !== null) preview.setClock(now);
      }, clockEvery);
    },
    (error: Error) => {
      // Without sound the picture plays all the same.
      setSound({ failure: `The sound cannot be played: ${error.message}` });
      if (!over) preview.play(null);
    },
  );
  return () => {
    over = true;
    clearInterval(timer);
    stopWatching();
    player.stop();
    preview.pause();
  };
}

/** Lets a frame that was stepped to be heard, where that is wanted. */
export function hearStep(frame: number) {
  const { document } = useDocument.getState();
  if (!document || !useSound.getState().stepsHeard || !sounds()) return;
  void wakeSound()?.player.blip(frame, rateOf(document.crossing));
}
