import { LRUCache } from 'lru-cache';
import {
  type CutPictures,
  deepMatteOf,
  type Matte,
  matteOf,
  matteScale,
  noPictures,
  readyOf,
} from '@/core/compose/layer-matte';
import { cutAt, type OutlinedCut } from '@/core/compose/cut';
import {
  type LayerDraw,
  needsPicture,
  picturesOf,
  readyPicture,
  type Scene,
  type WantedPicture,
} from '@/core/compose/scene';
import { shownSourceFrame } from '@/core/compose/source-frames';
import type { PicturePlanes } from '@/core/picture/planes';
import type { CrossingDocument } from '@/core/document/tables';
import { tracedLayer } from '@/core/document/plans';
import type { Shot } from '@/core/model/shot';
import { sameRow } from '@/core/document/edit';
import type { Alpha } from '@/core/matte/alpha';
import { MatteScratch } from '@/core/matte/matte';
import { FrameCache } from '@/footage/frame-cache';
import { FrameSource, type PictureSource } from '@/footage/frame-source';
import { GreySource } from '@/footage/grey-source';
import { StillSource } from '@/footage/still-source';
import type { ShotMedia } from '@/wire/answers';
import type { PreparedLayer } from './placed';
import { spend } from '@/footage/spent';

/** Where a picture is taken from. */
interface Taking {
  source: PictureSource;
  sourceId: string;
  halvings: number;
  original: boolean;
}

/** Samples a pixel from which on a copy is as good as what is shown. */
const leastSamplesPerPixel = 0.98;
/** Most halvings: beyond them pictures are too small to gain anything. */
const mostHalvings = 4;

/** How often a picture can be halved and still has a sample for each pixel. */
function halvingsFor(samplesPerPixel: number): number {
  return Math.min(mostHalvings, Math.max(0, Math.floor(Math.log2(samplesPerPixel / leastSamplesPerPixel))));
}

/** Decodes the pictures and draws the mattes that scenes need, and keeps both. */
export class PictureEngine {
  readonly shots: Record<string, Shot> = {};
  private readonly cache: FrameCache;
  private readonly originals = new Map<string, PictureSource>();
  private readonly workCopies = new Map<string, { source: PictureSource; share: number }>();
  /** Where each shot's pictures were taken from last, to read ahead from there. */
  private readonly taken = new Map<string, Taking>();
  private readonly mattes: MatteCache;

  /**
   * @param cacheBytes most bytes of decoded pictures to hold.
   * @param onDecoded told of every frame that has been decoded.
   * @param detail `exact`: the shots' own pictures, every sample; `as shown`: no more samples than the picture asked
   *   for has pixels, from a work copy where there is one; never for an export; `deep`: exact, with all bits that were
   *   filmed, and mattes of 16.
   */
  constructor(
    media: readonly ShotMedia[],
    readonly cacheBytes: number,
    private readonly onDecoded: (shotId: string, frame: number, planes: PicturePlanes) => void = () => {},
    private readonly detail: 'exact' | 'as shown' | 'deep' = 'exact',
  ) {
    this.mattes = new MatteCache(96e6, detail === 'deep' ? deepMatteOf : matteOf);
    this.cache = new FrameCache(cacheBytes, detail === 'as shown');
    for (const each of media) this.take(each);
  }

  /** Takes in a shot, or what has become known of one that it has. */
  take({ shot, url, timestamps, keyFrames, stills, deleted, work }: ShotMedia) {
    this.shots[shot.id] = shot;
    const told = (frame: number, planes: PicturePlanes) => this.onDecoded(shot.id, frame, planes);
    const sourceOf = (id: string, file: { url: string; timestamps: number[]; keyFrames: number[] }) => {
      const index = {
        timestamps: Float64Array.from(file.timestamps),
        keyFrames: Uint32Array.from(file.keyFrames),
      };
      return new FrameSource(id, file.url, index, shot.colour, this.cache, told, this.detail === 'deep');
    };
    if (!this.originals.has(shot.id))
      this.originals.set(
        shot.id,
        deleted
          ? new GreySource(shot.id, shot, this.cache)
          : stills
            ? new StillSource(shot.id, url, shot.frameCount, this.cache, told)
            : sourceOf(shot.id, { url, timestamps, keyFrames }),
      );
    if (work && this.detail === 'as shown' && !this.workCopies.has(shot.id))
      this.workCopies.set(shot.id, { source: sourceOf(`${shot.id} work`, work), share: work.share });
  }

  /** Decodes what is missing and returns the scene's layers ready to draw. */
  async prepare(scene: Scene, quality: number): Promise<PreparedLayer[]> {
    const start = performance.now();
    const taken = await Promise.all(
      scene.layers.map(async (draw) => {
        const ready = readyPicture(draw, this.shots);
        const [own, matte] = await Promise.all([
          needsPicture(scene, draw) ? this.picture(draw, quality) : null,
          ready && this.picture(ready, quality),
        ]);
        return { own, ready: matte && { planes: matte, shot: this.shots[ready!.shotId] } };
      }),
    );
    spend('decode', start);
    return scene.layers.map((draw, i) => this.withMatte(scene, draw, taken[i], quality));
  }

  /** The scene's layers ready to draw, or null when a picture is not decoded yet. */
  prepareNow(scene: Scene, quality: number): PreparedLayer[] | null {
    const layers: PreparedLayer[] = [];
    for (const draw of scene.layers) {
      const needed = needsPicture(scene, draw);
      const own = needed ? this.held(draw, quality) : null;
      const ready = readyOf(draw, this.shots, (wanted) => this.held(wanted, quality));
      if ((!own && needed) || (!ready && readyPicture(draw, this.shots))) return null;
      layers.push(this.withMatte(scene, draw, { own, ready }, quality));
    }
    return layers;
  }

  /**
   * @param quality share of the crossing's size that it is drawn at; left out: every sample of the shot's own picture.
   */
  picture(
    draw: Pick<LayerDraw, 'shotId' | 'sourceFrame'> & Partial<Pick<LayerDraw, 'toShot'>>,
    quality?: number,
  ): Promise<PicturePlanes> {
    const taking = this.takingOf(draw, quality);
    if (!taking) return Promise.reject(new Error('This shot is not part of the crossing.'));
    return taking.source.frame(draw.sourceFrame, taking.halvings);
  }

  /** A shot's own picture, halved so often. */
  halvedPicture(
    { shotId, sourceFrame }: Pick<LayerDraw, 'shotId' | 'sourceFrame'>,
    halvings: number,
  ): Promise<PicturePlanes> {
    const source = this.originals.get(shotId);
    if (!source) return Promise.reject(new Error('This shot is not part of the crossing.'));
    return source.frame(sourceFrame, halvings);
  }

  private held(draw: WantedPicture, quality: number): PicturePlanes | null {
    const taking = this.takingOf(draw, quality);
    return taking && this.cache.get(taking.sourceId, draw.sourceFrame, taking.halvings);
  }

  /** Whether pictures of these layers are taken from the shots themselves, at this quality. */
  isOriginal(scene: Scene, quality: number): boolean {
    return scene.layers.every((draw) => this.takingOf(draw, quality)?.original ?? true);
  }

  /** From where, and how often halved, a picture is taken to have about a sample for each pixel. */
  private takingOf(
    { shotId, toShot }: Pick<LayerDraw, 'shotId'> & Partial<Pick<LayerDraw, 'toShot'>>,
    quality?: number,
  ): Taking | null {
    const original = this.originals.get(shotId);
    if (!original) return null;
    if (this.detail !== 'as shown' || quality === undefined || !toShot)
      return { source: original, sourceId: shotId, halvings: 0, original: true };
    const samples = Math.hypot(toShot[0], toShot[1]) / quality;
    const work = this.workCopies.get(shotId);
    const taking =
      work && samples * work.share >= leastSamplesPerPixel
        ? {
            source: work.source,
            sourceId: `${shotId} work`,
            halvings: halvingsFor(samples * work.share),
            original: false,
          }
        : { source: original, sourceId: shotId, halvings: halvingsFor(samples), original: true };
    this.taken.set(shotId, taking);
    return taking;
  }

  /** The pictures that what is cut of the traced shot hangs on, for measuring: none where it has no picture there. */
  async cutPictures(document: CrossingDocument, frame: number): Promise<CutPictures> {
    const layer = tracedLayer(document);
    const shot = layer && this.shots[layer.shotId];
    const sourceFrame = shot ? shownSourceFrame(document, layer, shot, frame) : null;
    if (!shot || sourceFrame === null) return noPictures;
    const cut = cutAt(document, this.shots, layer, frame);
    const { key, ready } = cut.extent === 'outlined' ? cut : { key: null, ready: null };
    return {
      own: key && (await this.picture({ shotId: shot.id, sourceFrame })),
      ready: ready && {
        planes: await this.picture({ shotId: ready.shotId, sourceFrame: ready.frame }),
        shot: this.shots[ready.shotId],
      },
    };
  }

  /** Decodes these frames of a shot when there is nothing more urgent, as they were shown last. */
  readAhead(shotId: string, frames: readonly number[]) {
    const original = this.originals.get(shotId);
    const { source, halvings } = this.taken.get(shotId) ?? { source: original, halvings: 0 };
    for (const other of [original, this.workCopies.get(shotId)?.source])
      if (other && other !== source) other.readAhead([]);
    source?.readAhead(frames, halvings);
  }

  /** Gives up all that is read ahead. */
  readNothingAhead() {
    for (const [, source] of this.sources()) source.readAhead([]);
  }

  /** Bytes that one of a shot's pictures takes, as it was shown last. */
  pictureBytes({ id, width, height }: Shot): number {
    const { halvings, original } = this.taken.get(id) ?? { halvings: 0, original: true };
    const share = (original ? 1 : (this.workCopies.get(id)?.share ?? 1)) / 2 ** halvings;
    return width * height * 1.5 * share * share;
  }

  /** Gives up what was asked for and is not in this scene. */
  keepOnly(scene: Scene) {
    const wanted = picturesOf(scene, this.shots);
    for (const [id, source] of this.sources())
      source.keepOnly(
        new Set(wanted.filter(({ shotId }) => shotId === id).map(({ sourceFrame }) => sourceFrame)),
      );
  }

  private sources(): [shotId: string, source: PictureSource][] {
    return [
      ...this.originals,
      ...[...this.workCopies].map(([id, { source }]) => [id, source] as [string, PictureSource]),
    ];
  }

  /** Lets go of pictures and decoders until something is asked for again. */
  async rest() {
    this.cache.clear();
    await Promise.all(this.sources().map(([, source]) => source.rest()));
  }

  /** Bytes of decoded pictures held now. */
  get heldBytes(): number {
    return this.cache.heldBytes;
  }

  async close() {
    await Promise.all(this.sources().map(([, source]) => source.close()));
  }

  private withMatte(
    { paint }: Scene,
    draw: LayerDraw,
    pictures: CutPictures,
    quality: number,
  ): PreparedLayer {
    const start = performance.now();
    const matte =
      draw.cut.extent === 'outlined'
        ? this.mattes.get(draw, draw.cut, this.shots[draw.shotId], matteScale(draw, quality), pictures)
        : null;
    spend('matte', start);
    return { draw, planes: paint === 'picture' ? pictures.own : null, matte };
  }
}

/** What a matte was drawn from. */
interface MatteOrigin {
  layerId: string;
  /** Of a keyed colour, which is another in every picture. */
  sourceFrame: number | null;
  cut: OutlinedCut;
  scale: number;
}

/** Mattes by what they were drawn from, bounded in bytes; the longest unused go first. */
class MatteCache {
  private readonly scratch = new MatteScratch();
  private readonly mattes: LRUCache<MatteOrigin, Matte<Alpha>>;

  /**
   * @param budget most bytes that mattes may take together; one alone may be larger, and is not kept.
   * @param make draws one.
   */
  constructor(
    budget: number,
    private readonly make: typeof matteOf | typeof deepMatteOf,
  ) {
    this.mattes = new LRUCache({
      maxSize: budget,
      sizeCalculation: ({ alpha }) => Math.max(1, alpha.byteLength),
    });
  }

  get(draw: LayerDraw, cut: OutlinedCut, shot: Shot, scale: number, pictures: CutPictures): Matte<Alpha> {
    const { layerId } = draw;
    const sourceFrame = cut.key ? draw.sourceFrame : null;
    for (const origin of this.mattes.keys())
      if (
        origin.layerId === layerId &&
        origin.scale === scale &&
        origin.sourceFrame === sourceFrame &&
        sameCut(origin.cut, cut)
      )
        return this.mattes.get(origin)!;
    const matte = this.make(cut, shot, scale, this.scratch, pictures);
    this.mattes.set({ layerId, sourceFrame, cut, scale }, matte);
    return matte;
  }
}

function sameCut(a: OutlinedCut, b: OutlinedCut): boolean {
  return (
    a.keeps === b.keeps &&
    a.full === b.full &&
    sameRow(a.key, b.key) &&
    sameRow(a.ready, b.ready) &&
    a.posed.length === b.posed.length &&
    a.posed.every(
      ({ outline, edge, coordinates, exposures }, i) =>
        sameRow(outline, b.posed[i].outline) &&
        sameRow(edge, b.posed[i].edge) &&
        sameRow({ coordinates }, { coordinates: b.posed[i].coordinates }) &&
        exposures.length === b.posed[i].exposures.length &&
        // The first and the last of them tell all between.
        [0, exposures.length - 1].every((k) =>
          sameRow({ pose: exposures[k] ?? [] }, { pose: b.posed[i].exposures[k] ?? [] }),
        ),
    )
  );
}
