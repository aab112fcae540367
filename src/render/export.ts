import { assertNever } from '@/core/model/assert-never';
import { fileNameOf } from '@/core/formats/file-name';
import { rateOf } from '@/core/time/rate';
import { drawDeepAlpha } from '@/core/compose/picture';
import { cutOutAt, picturesOf, sceneAt } from '@/core/compose/scene';
import { tracedLayer } from '@/core/document/plans';
import type { CrossingDocument } from '@/core/document/tables';
import {
  type ExportFormat,
  formatOf,
  isVideo,
  type ExportSoundCodec,
  type ExportQuality,
  type PictureOf,
  soundIsJoined,
} from '@/core/formats/export-formats';
import { type ExportPart, exportSize } from '@/core/formats/export-range';
import type { Size } from '@/core/compose/sampling';
import { mixRate } from '@/core/model/limits';
import type { SourceTimecode } from '@/core/model/shot';
import { samplesSinceMidnight, writtenTimecode } from '@/core/time/source-timecode';
import { sampleOfFrame } from '@/core/sound/behind';
import { PlanesOut } from '@/footage/planes-out';
import { PngStream } from '@/footage/png-stream';
import { PictureZip, type Pixels, pngOf } from '@/footage/picture-zip';
import { type Spent, takeSpent } from '@/footage/spent';
import { VideoWriter } from '@/footage/video-writer';
import { Compositor } from './compositor';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';
import { FramePlanes } from './frame-planes';
import { posterOf } from './export-poster';
import { ExportSink, type OnWaiting } from './export-sink';
import { ExportSound, type LoudnessTarget, writeMix, writeTracks } from './export-sound';

export interface ExportOrder {
  /** What is drawn: the crossing, or one of its shots alone. */
  document: CrossingDocument;
  /** The shot that is drawn alone; null: the crossing. */
  shotName: string | null;
  media: ShotMedia[];
  /** The document's revision on the server. */
  revision: number;
  format: ExportFormat;
  quality: ExportQuality;
  part: ExportPart;
  /** First and last crossing frame that are written; they may lie beyond what is played. */
  from: number;
  to: number;
  /** The sound it carries. */
  sound: ExportSoundCodec;
  loudness: LoudnessTarget;
  /** Of its first frame; null: it has none. */
  timecode: SourceTimecode | null;
  /** Last frame of its sound: beyond the pictures' where it is the first part of many, which has all of it. */
  heardTo: number;
}

export interface ExportDone {
  id: string;
  spent: Spent;
}

const cacheBytes = 128e6;

/** Told how many frames of how many are written. */
type OnProgress = (written: number, of: number) => void;

/**
 * Draws every frame of a stretch of a crossing as the preview draws it, encodes it with its sound, and stores the file on
 * the server as it grows.
 *
 * @param onBegun told the id that the export will have.
 * @param signal aborted, nothing is kept.
 * @param onWaiting told while the server is out of reach or has no room.
 * @returns the export's id, and what its pictures took, ms.
 * @throws Error when a frame cannot be decoded, the encoder fails, or the server refuses; nothing is kept then.
 */
export async function exportCrossing(
  order: ExportOrder,
  onBegun: (id: string) => void,
  onProgress: OnProgress,
  signal: AbortSignal,
  onWaiting: OnWaiting = () => {},
): Promise<ExportDone> {
  const { document, media, revision, format, from: first, loudness: target } = order;
  const total = order.to - first + 1;
  const { id: crossingId, rateNum, rateDen } = document.crossing;
  const facts = {
    ...{ crossingId, revision, format, frameCount: total, sound: order.sound, rateNum, rateDen },
    ...{ ...exportSize(document.crossing, order.part), firstFrame: first, shotName: order.shotName },
    timecode: order.timecode && writtenTimecode(order.timecode),
    quality: order.quality,
  };
  const sink = await ExportSink.begin(facts, signal, onWaiting);
  onBegun(sink.id);
  let sound: ExportSound | null = null;
  let finished = false;
  try {
    if (order.sound !== 'none')
      sound = await ExportSound.open({
        ...{ document, media, first, count: order.heardTo - first + 1, target },
        ...{ codec: order.sound, channels: formatOf(format).channels },
      });
    const onShare = (share: number) => {
      signal.throwIfAborted();
      onProgress(Math.max(1, Math.floor(share * total)), total);
    };
    const poster = await writeWith(order, sink, sound, onProgress, onShare, signal);
    // Joined on the server, which has an encoder for it.
    if (soundIsJoined(format, order.sound))
      await writeMix(sound!, sink.stream('sound'), null, () => signal.throwIfAborted());
    await sink.finish(poster);
    finished = true;
    return { id: sink.id, spent: takeSpent() };
  } finally {
    sound?.close();
    if (!finished) await sink.cancel();
  }
}

/** Writes what the format's writer makes. @returns the middle frame, small; null where there are no pictures. */
async function writeWith(
  order: ExportOrder,
  sink: ExportSink,
  sound: ExportSound | null,
  onProgress: OnProgress,
  onShare: (share: number) => void,
  signal: AbortSignal,
): Promise<string | null> {
  const { writer } = formatOf(order.format);
  const { timecode } = order;
  const reference = timecode && samplesSinceMidnight(timecode.start, timecode.rate, mixRate);
  switch (writer) {
    case 'video':
    case 'pictures':
    case 'ffmpeg':
      return writePictures(order, sink, sound, onProgress, signal);
    case 'tracks':
      await writeTracks(order.document, sound!, sink.stream(), reference, onShare);
      return null;
    case 'mix':
      await writeMix(sound!, sink.stream(), reference, onShare);
      return null;
    default:
      return assertNever(writer);
  }
}

/**
 * Writes every frame, and after each the sound that goes with it where the file carries that.
 *
 * @returns its middle frame, small.
 */
async function writePictures(
  order: ExportOrder,
  sink: ExportSink,
  sound: ExportSound | null,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<string | null> {
  const { document, media, format, quality, part, sound: codec, from: first, to, heardTo, timecode } = order;
  const total = to - first + 1;
  const size = exportSize(document.crossing, part);
  const { width, height } = size;
  const { drawn, depth, sent, ...described } = formatOf(format);
  const of = described.of as PictureOf;
  const deep = depth > 8 && of !== 'matte';
  const engine = new PictureEngine(media, cacheBytes, undefined, deep ? 'deep' : 'exact');
  const compositor = new Compositor(new OffscreenCanvas(16, 16));
  const rate = rateOf(document.crossing);
  const turns: Turn[] = drawn === 'for each outline' ? outlinesAlone(document) : [{ folder: '', document }];
  if (turns.length === 0) throw new Error('The traced shot has no outline to write a matte of.');
  const carried = sound && codec === 'opus' ? sound : null;
  const video = isVideo(format)
    ? new VideoWriter(
        format,
        {
          ...{ width, height, rate, frames: total, quality },
          soundFrames: carried ? heardTo - first + 1 : 0,
          timecode: timecode && writtenTimecode(timecode),
        },
        sink.stream(),
      )
    : null;
  const writer: PictureWriter =
    video ??
    (sent === null
      ? new PictureZip(of, width, height, first, sink.stream())
      : sent === 'pictures'
        ? new PngStream(of, width, height, sink.stream())
        : new PlanesOut({ width, height, layout: sent }, sink.stream()));
  const mixer = carried?.mixer();
  const planes = video && of === 'result' ? new FramePlanes(compositor, size) : null;
  const rgba = new Uint8Array(planes || deep ? 0 : width * height * 4);
  const floats = new Float32Array(deep ? width * height * 4 : 0);
  let poster: string | null = null;
  let finished = false;
  try {
    await writer.start();
    // The next picture is decoded while this one is drawn, and encoded while the next one is.
    const count = total * turns.length;
    const begin = (n: number) => {
      const [shown, frame] = [turns[n % turns.length].document, first + Math.floor(n / turns.length)];
      if (deep) return deepPictureOf(shown, engine, compositor, frame, of, size, floats);
      return depth === 16
        ? deepMatte(shown, engine, frame, size)
        : planes
          ? planesOf(shown, engine, planes, frame)
          : pictureOf(shown, engine, compositor, frame, of, size, rgba);
    };
    let next = begin(0);
    let adding: Promise<void> = Promise.resolve();
    for (let n = 0; n < count; n++) {
      const { folder } = turns[n % turns.length];
      const draw = await next;
      if (n + 1 < count) next = begin(n + 1);
      // Whatever fails here is thrown by the turn that waits for it.
      next.catch(() => {});
      const pixels = draw();
      if (n === turns.length * Math.floor(total / 2))
        poster = await posterOf(pixels, width, height).catch(() => null);
      await adding;
      adding = writer.add(pixels, folder);
      adding.catch(() => {});
      signal.throwIfAborted();
      if ((n + 1) % turns.length > 0) continue;
      const k = Math.floor(n / turns.length);
      if (mixer) {
        const [from, to] = [first + k, first + k + 1].map((frame) => sampleOfFrame(frame, rate));
        await video!.addSound(await mixer.next(to - from));
      }
      onProgress(k + 1, total);
    }
    await adding;
    // The first of many parts has the sound of all of them.
    for (let frame = to + 1; mixer && frame <= heardTo; frame++) {
      await video!.addSound(await mixer.next(sampleOfFrame(frame + 1, rate) - sampleOfFrame(frame, rate)));
      signal.throwIfAborted();
    }
    await writer.finish();
    finished = true;
    return poster;
  } finally {
    if (!finished)
      await writer.cancel().catch(() => {
        // What made it fail is thrown already.
      });
    await engine.close();
  }
}

/** Where drawn frames go, one after the other; only numbered pictures take 16 bits and folders. */
interface PictureWriter {
  start(): Promise<void>;
  add(pixels: Pixels, folder: string): Promise<void>;
  finish(): Promise<void>;
  cancel(): Promise<void>;
}

/** What is drawn of a frame, and the folder it goes to: its name and a slash, or nothing. */
interface Turn {
  folder: string;
  document: CrossingDocument;
}

/** The crossing with each of the traced shot's outlines as the only one, and no colour keyed. */
function outlinesAlone(document: CrossingDocument): Turn[] {
  const layer = tracedLayer(document);
  return Object.values(document.outlines)
    .filter(({ layerId }) => layerId === layer?.id)
    .sort((a, b) => a.position - b.position)
    .map((outline, k) => ({
      folder: `${k + 1} ${fileNameOf(outline.name, 'Outline')}/`,
      document: {
        ...document,
        chromas: {},
        outlines: { [outline.id]: { ...outline, combine: 'add', cutsLayerId: null } },
      },
    }));
}

/** One frame of the crossing, without a file, as a PNG. */
export async function stillOf(
  { document, media }: Pick<ExportOrder, 'document' | 'media'>,
  frame: number,
  of: PictureOf,
): Promise<Uint8Array<ArrayBuffer>> {
  const { width, height } = document.crossing;
  const engine = new PictureEngine(media, cacheBytes);
  const rgba = new Uint8Array(width * height * 4);
  try {
    const compositor = new Compositor(new OffscreenCanvas(16, 16));
    const draw = await pictureOf(document, engine, compositor, frame, of, { width, height }, rgba);
    return pngOf(draw(), width, height, of);
  } finally {
    await engine.close();
  }
}

/**
 * Gets ready what a frame shows, its pictures decoded and its mattes drawn. What is returned draws it into `rgba`: the
 * result; the cut-out with straight alpha; the matte, white where the incoming shot shows.
 */
async function pictureOf(
  document: CrossingDocument,
  engine: PictureEngine,
  compositor: Compositor,
  frame: number,
  of: PictureOf,
  { width, height }: Size,
  rgba: Uint8Array,
): Promise<() => Uint8Array> {
  const { scene, layers } = await prepared(document, engine, frame, of, width);
  return () => {
    compositor.read(scene, layers, { shots: engine.shots, crossing: document.crossing, width, height }, rgba);
    if (of === 'cut-out') divideByAlpha(rgba);
    if (of === 'matte') paintMatte(rgba, tracedLayer(document)?.role === 'incoming');
    return rgba;
  };
}

/** What is drawn of a frame, and its layers ready to draw. @param width of the picture, px. */
async function prepared(
  document: CrossingDocument,
  engine: PictureEngine,
  frame: number,
  of: PictureOf,
  width: number,
) {
  const scene =
    of === 'result'
      ? sceneAt(document, engine.shots, frame, { view: 'result', traced: null })
      : cutOutAt(document, engine.shots, frame);
  return { scene, layers: await engine.prepare(scene, width / document.crossing.width) };
}

/** What a frame shows in floats, 0 to 1: the result, or the cut-out with straight alpha. */
async function deepPictureOf(
  document: CrossingDocument,
  engine: PictureEngine,
  compositor: Compositor,
  frame: number,
  of: PictureOf,
  { width, height }: Size,
  floats: Float32Array,
): Promise<() => Float32Array> {
  const { scene, layers } = await prepared(document, engine, frame, of, width);
  return () => {
    const drawn = { shots: engine.shots, crossing: document.crossing, width, height };
    compositor.readDeep(scene, layers, drawn, floats);
    if (of === 'cut-out') unpremultiply(floats);
    return floats;
  };
}

function unpremultiply(floats: Float32Array) {
  for (let i = 0; i < floats.length; i += 4) {
    const alpha = floats[i + 3];
    if (alpha <= 0 || alpha >= 1) continue;
    for (let k = i; k < i + 3; k++) floats[k] = Math.min(1, floats[k] / alpha);
  }
}

/** The result as planes, as videos take them. */
async function planesOf(
  document: CrossingDocument,
  engine: PictureEngine,
  planes: FramePlanes,
  frame: number,
): Promise<() => Uint8Array> {
  const scene = sceneAt(document, engine.shots, frame, { view: 'result', traced: null });
  const layers = await engine.prepare(scene, planes.size.width / document.crossing.width);
  return () => {
    planes.draw(scene, layers, engine.shots, document.crossing);
    return planes.planes;
  };
}

/** The same for a matte with 16 bits, as the core draws it: graphics processors have 8. */
async function deepMatte(
  document: CrossingDocument,
  engine: PictureEngine,
  frame: number,
  { width, height }: Size,
): Promise<() => Uint16Array> {
  const { shots } = engine;
  const scene = cutOutAt(document, shots, frame);
  // Only pictures that mattes depend on are decoded.
  const pictures = await Promise.all(
    picturesOf({ ...scene, paint: 'matte' }, shots).map(async (wanted) => ({
      ...wanted,
      planes: await engine.picture(wanted),
    })),
  );
  const planesOf = ({ shotId, sourceFrame }: { shotId: string; sourceFrame: number }) =>
    pictures.find((held) => held.shotId === shotId && held.sourceFrame === sourceFrame)?.planes ?? null;
  return () => {
    const alpha = new Uint16Array(width * height);
    drawDeepAlpha(scene, { shots, crossing: document.crossing, planesOf, width, height }, alpha);
    if (tracedLayer(document)?.role !== 'incoming')
      for (let i = 0; i < alpha.length; i++) alpha[i] = 65_535 - alpha[i];
    return alpha;
  };
}

/** Unpremultiplies: divides colours by their alpha, rounded. */
function divideByAlpha(rgba: Uint8Array) {
  for (let i = 0; i < rgba.length; i += 4) {
    const alpha = rgba[i + 3];
    if (alpha === 0 || alpha === 255) continue;
    for (let k = i; k < i + 3; k++) rgba[k] = Math.min(255, Math.round((rgba[k] * 255) / alpha));
  }
}

/** The cut-out's alpha as a grey picture; turned round where it is the outgoing shot's. */
function paintMatte(rgba: Uint8Array, incoming: boolean) {
  for (let i = 0; i < rgba.length; i += 4) {
    const value = incoming ? rgba[i + 3] : 255 - rgba[i + 3];
    rgba[i] = rgba[i + 1] = rgba[i + 2] = value;
    rgba[i + 3] = 255;
  }
}
