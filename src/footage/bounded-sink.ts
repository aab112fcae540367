import { type InputVideoTrack, VideoSampleSink } from 'mediabunny';

/** Bytes of decoded pictures that may wait for whoever asked for them. */
const mostWaiting = 64e6;
/** Packets that the library lets into a decoder while no picture waits, and fewest that keep a decoder busy. */
const [usual, fewest] = [40, 4];

/** What the library keeps to itself. */
interface Inner {
  _createDecoder(...told: unknown[]): Promise<{ getDecodeQueueSize(): number }>;
}

/**
 * A source of decoded pictures that lets fewer of them wait, the larger they are. mediabunny (1.61) lets forty packets into a
 * decoder while none waits, and all that comes of them then does: 500 MB in 4K (writing PNG of 4K, the tab held 1.7 GB, and holds
 * 1.1 with this). It has no setting for it, so its decoder is made
 * to say that it is fuller than it is.
 */
export async function boundedSink(track: InputVideoTrack): Promise<VideoSampleSink> {
  const sink = new VideoSampleSink(track);
  const bytes = (await track.getCodedWidth()) * (await track.getCodedHeight()) * 1.5;
  const most = Math.max(fewest, Math.floor(mostWaiting / bytes));
  const inner = sink as unknown as Inner;
  if (most >= usual || typeof inner._createDecoder !== 'function') return sink;
  const create = inner._createDecoder.bind(sink);
  inner._createDecoder = async (...told) => {
    const decoder = await create(...told);
    const own = decoder.getDecodeQueueSize.bind(decoder);
    decoder.getDecodeQueueSize = () => own() + usual - most;
    return decoder;
  };
  return sink;
}
