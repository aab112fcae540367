import { CustomVideoEncoder, EncodedPacket, registerEncoder, VideoSample } from 'mediabunny';

/** Pictures that are encoded before the first one, and thrown away. */
const before = 6;
/** Pictures that the browser's encoder may have waiting. */
const mostWaiting = 4;

/**
 * An encoder of H.264 whose first picture is as good as the others. Rate control begins cautiously and takes some
 * pictures to find out what it can afford: it is given the first one several times, and what comes of that is dropped.
 */
class WarmedEncoder extends CustomVideoEncoder {
  private encoder: VideoEncoder | null = null;
  private toDrop = before;
  private description: EncodedVideoChunkMetadata | undefined;
  private warmed = false;

  static override supports(codec: string): boolean {
    return codec === 'avc' && typeof VideoEncoder !== 'undefined';
  }

  init() {
    this.encoder = new VideoEncoder({
      output: (chunk, meta) => {
        // What a decoder has to know comes with the first one only.
        if (meta?.decoderConfig) this.description = meta;
        if (this.toDrop > 0) {
          this.toDrop--;
          return;
        }
        this.onPacket(EncodedPacket.fromEncodedChunk(chunk), this.description);
        this.description = undefined;
      },
      error: (error) => this.onError(error),
    });
    this.encoder.configure(this.config);
  }

  async encode(sample: VideoSample, options: VideoEncoderEncodeOptions) {
    if (!this.warmed) {
      this.warmed = true;
      for (let k = before; k > 0; k--) {
        const earlier = sample.clone();
        earlier.setTimestamp(sample.timestamp - k * sample.duration);
        await this.take(earlier, {});
        earlier.close();
      }
      options = { ...options, keyFrame: true };
    }
    await this.take(sample, options);
  }

  private async take(sample: VideoSample, options: VideoEncoderEncodeOptions) {
    const encoder = this.encoder!;
    while (encoder.encodeQueueSize >= mostWaiting && encoder.state === 'configured')
      await new Promise((done) => encoder.addEventListener('dequeue', done, { once: true }));
    const frame = sample.toVideoFrame();
    try {
      encoder.encode(frame, options);
    } finally {
      frame.close();
    }
  }

  async flush() {
    await this.encoder?.flush();
  }

  close() {
    if (this.encoder?.state !== 'closed') this.encoder?.close();
  }
}

let registered = false;

/** From now on H.264 is encoded so, in this thread. */
export function warmEncoders() {
  if (registered) return;
  registered = true;
  registerEncoder(WarmedEncoder);
}
