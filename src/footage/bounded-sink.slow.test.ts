import { FilePathSource, Input, MP4 } from 'mediabunny';
import { spawnSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { boundedSink } from './bounded-sink';

/** What the library asks of a decoder, here one that waits for ever. */
interface Sink {
  _createDecoder(...told: unknown[]): Promise<{ getDecodeQueueSize(): number }>;
}

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-bounded-'));

// Node has no decoders: this one only says that nothing waits in it.
Object.assign(globalThis, {
  VideoDecoder: class {
    decodeQueueSize = 0;
    configure() {}
    close() {}
    static async isConfigSupported() {
      return { supported: true };
    }
  },
});

test('the larger the pictures, the fewer are let into the decoder of the library as it is installed', async () => {
  const saysOfEmpty: number[] = [];
  for (const size of ['320x180', '1920x1080', '3840x2160']) {
    const file = path.join(folder, `${size}.mp4`);
    const source = ['-f', 'lavfi', '-i', `color=s=${size}:r=25:d=0.08`];
    spawnSync('ffmpeg', ['-v', 'error', '-y', ...source, '-c:v', 'libx264', '-preset', 'ultrafast', file]);
    using input = new Input({ source: new FilePathSource(file), formats: [MP4] });
    const sink = (await boundedSink((await input.getPrimaryVideoTrack())!)) as unknown as Sink;
    const decoder = await sink._createDecoder(
      () => {},
      () => {},
    );
    saysOfEmpty.push(decoder.getDecodeQueueSize());
  }
  // Of forty that it lets in: all, twenty (64 MB of 3.1), five (of 12.4).
  expect(saysOfEmpty).toEqual([0, 20, 35]);
});
