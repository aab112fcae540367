import type { StreamTargetChunk } from 'mediabunny';

/** Bytes that are gathered before they are written out. */
const chunkSize = 4 * 1024 * 1024;

/** Bytes that come in small pieces, one after the other, written out in large ones. */
export class ChunkedOut {
  private readonly out: WritableStreamDefaultWriter<StreamTargetChunk>;
  private gathered: Uint8Array[] = [];
  private gatheredBytes = 0;
  private position = 0;
  private failure: Error | null = null;

  constructor(sink: WritableStream<StreamTargetChunk>) {
    this.out = sink.getWriter();
  }

  /** Takes a piece, or what went wrong with it: the next flush throws that. */
  take(error: Error | null, bytes: Uint8Array) {
    if (error) this.failure = error;
    else {
      this.gathered.push(bytes);
      this.gatheredBytes += bytes.length;
    }
  }

  /** Writes out what has gathered, if that is much. */
  async flushIfLarge() {
    if (this.gatheredBytes >= chunkSize) await this.flush();
    else if (this.failure) throw this.failure;
  }

  async flush() {
    if (this.failure) throw this.failure;
    const data = new Uint8Array(this.gatheredBytes);
    let at = 0;
    for (const bytes of this.gathered) {
      data.set(bytes, at);
      at += bytes.length;
    }
    [this.gathered, this.gatheredBytes] = [[], 0];
    if (data.length === 0) return;
    await this.out.write({ type: 'write', data, position: this.position });
    this.position += data.length;
  }

  /** Writes out the rest and ends. */
  async finish() {
    await this.flush();
    await this.out.close();
  }

  async cancel() {
    await this.out.abort();
  }
}
