import { Uint8ArrayReader, ZipWriter } from '@zip.js/zip.js';
import type { StreamTargetChunk } from 'mediabunny';
import { ChunkedOut } from './chunked-out';

/** ZIP's own times begin with 1980 (APPNOTE 4.4.6): every entry has one, so that the same pictures make the same ZIP. */
const entryTime = new Date(1980, 0, 1);

/**
 * How ZIPs are written: what is in them is compressed already, and stored as it is; ZIP64 (APPNOTE 4.3.14) from 4 GiB or
 * 65,535 files on.
 */
export const zipSettings = {
  level: 0,
  lastModDate: entryTime,
  extendedTimestamp: false,
  // Whoever writes is in a worker, or in the server.
  useWebWorkers: false,
};

/** A ZIP that is written out as its files come. */
export class ZipOut {
  private readonly out: ChunkedOut;
  private readonly zip: ZipWriter<unknown>;

  constructor(sink: WritableStream<StreamTargetChunk>) {
    this.out = new ChunkedOut(sink);
    const write = (bytes: Uint8Array) => {
      this.out.take(null, bytes);
      return this.out.flushIfLarge();
    };
    this.zip = new ZipWriter(new WritableStream({ write }), zipSettings);
  }

  /** Takes a file whole. @throws Error when it, or what came before, cannot be written. */
  async add(name: string, bytes: Uint8Array) {
    await this.zip.add(name, new Uint8ArrayReader(bytes), { dataDescriptor: false });
  }

  /** Takes a file piece by piece; so long as that lasts, no other is taken. */
  async addPieces(name: string, pieces: AsyncIterable<Uint8Array>) {
    await this.zip.add(name, streamOf(pieces));
  }

  async finish() {
    await this.zip.close();
    await this.out.finish();
  }

  async cancel() {
    await this.out.cancel();
  }
}

/** What comes piece by piece, as a stream that asks for one piece after the other. */
export function streamOf(pieces: AsyncIterable<Uint8Array>): ReadableStream<Uint8Array> {
  const each = pieces[Symbol.asyncIterator]();
  return new ReadableStream<Uint8Array>(
    {
      async pull(stream) {
        const { done, value } = await each.next();
        if (done) stream.close();
        else stream.enqueue(value);
      },
      async cancel() {
        await each.return?.();
      },
    },
    { highWaterMark: 0 },
  );
}
