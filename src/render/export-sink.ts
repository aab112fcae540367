import type { StreamTargetChunk } from 'mediabunny';
import type { ExportFormat, ExportQuality, ExportSoundCodec } from '@/core/formats/export-formats';

/** What an export is of. */
export interface ExportFacts {
  crossingId: string;
  revision: number;
  format: ExportFormat;
  frameCount: number;
  sound: ExportSoundCodec;
  /** Size in px and frames a second of what is written. */
  width: number;
  height: number;
  rateNum: number;
  rateDen: number;
  /** Number of its first frame: of the crossing, or of the shot that it is of alone. */
  firstFrame: number;
  shotName: string | null;
  /** Of the first frame; null: the file says none. */
  timecode: string | null;
  quality: ExportQuality;
}

/** ms between two words that more pieces will come. */
const aliveEvery = 4000;

/** s between tries while the server is out of reach or has no room: the first ones, and those after them. */
const [patience, thereafter] = [[0.5, 1, 2, 4], 8];
/** s after which it is given up: about as long as the server keeps what nobody goes on with. */
const givenUpAfter = 600;

/** Told why an export waits, as a sentence; null: it goes on. */
export type OnWaiting = (why: string | null) => void;

/**
 * A file that is stored on the server while it is written, piece by piece; nothing of it stays here.
 *
 * @throws Error with the server's sentence when it refuses.
 */
export class ExportSink {
  private readonly alive: ReturnType<typeof setInterval>;

  private constructor(
    readonly id: string,
    private readonly signal: AbortSignal,
    private readonly onWaiting: OnWaiting,
  ) {
    // A slow export is not an abandoned one.
    this.alive = setInterval(() => {
      void fetch(`/api/exports/${id}?position=0`, { method: 'PATCH' }).catch(() => {});
    }, aliveEvery);
  }

  static async begin(facts: ExportFacts, signal: AbortSignal, onWaiting: OnWaiting): Promise<ExportSink> {
    const asked = { body: JSON.stringify(facts), signal, onWaiting };
    const { id } = await ask<{ id: string }>('/api/exports', 'POST', asked);
    return new ExportSink(id, signal, onWaiting);
  }

  /**
   * Takes the pieces; whoever writes waits until each has arrived.
   *
   * @param part the file, or the sound that the server joins to it.
   */
  stream(part: 'file' | 'sound' = 'file'): WritableStream<StreamTargetChunk> {
    return new WritableStream<StreamTargetChunk>(
      {
        write: ({ data, position }) =>
          ask<unknown>(`/api/exports/${this.id}?position=${position}&part=${part}`, 'PATCH', {
            body: data,
            signal: this.signal,
            onWaiting: this.onWaiting,
          }).then(() => {}),
      },
      new CountQueuingStrategy({ highWaterMark: 2 }),
    );
  }

  /** The file is whole: it is listed from now on. @param picture of it, small: a WebP as base64. */
  async finish(picture: string | null) {
    const { signal, onWaiting } = this;
    const body = JSON.stringify({ picture });
    await ask<unknown>(`/api/exports/${this.id}`, 'POST', { body, signal, onWaiting });
    clearInterval(this.alive);
  }

  /** Throws away what has arrived, unless it has been finished all the same. */
  async cancel() {
    clearInterval(this.alive);
    await fetch(`/api/exports/${this.id}?of=under-way`, { method: 'DELETE' }).catch(() => {
      // The server clears it away itself before long.
    });
  }
}

async function ask<T>(
  path: string,
  method: 'POST' | 'PATCH',
  {
    body,
    signal,
    onWaiting,
  }: { body: string | Uint8Array<ArrayBuffer>; signal: AbortSignal; onWaiting: OnWaiting },
): Promise<T> {
  const type = typeof body === 'string' ? 'application/json' : 'application/octet-stream';
  for (let [tries, waited] = [0, 0]; ; tries++) {
    signal.throwIfAborted();
    const answer = await fetch(path, { method, body, headers: { 'Content-Type': type }, signal }).catch(
      (error: unknown) => {
        if (signal.aborted) throw error;
        return null;
      },
    );
    if (answer?.ok) {
      if (tries > 0) onWaiting(null);
      return (await answer.json()) as T;
    }
    const said = (await answer?.json().catch(() => null)) as { error?: string } | null;
    const passing = !answer || answer.status === 507 || (answer.status >= 500 && !said);
    const why = said?.error ?? 'Kiv’s server does not answer. Start it again with npm start.';
    if (!passing || waited >= givenUpAfter) throw new Error(why);
    onWaiting(why);
    const pause = patience[tries] ?? thereafter;
    waited += pause;
    await new Promise((done) => setTimeout(done, pause * 1000));
  }
}
