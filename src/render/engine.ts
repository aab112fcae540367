import { type Matte, matteOf, matteScale } from '@/core/compose/picture';
import { type LayerDraw, type OutlinedCut, type Scene, shownSourceFrame } from '@/core/compose/scene';
import type { PicturePlanes } from '@/core/compose/planes';
import type { CrossingDocument } from '@/core/document/document';
import { tracedLayer } from '@/core/document/plans';
import type { Shot } from '@/core/document/rows';
import { sameRow } from '@/core/document/edit';
import { MatteScratch } from '@/core/matte/matte';
import { FrameCache } from '@/footage/frame-cache';
import { FrameSource, type PictureSource } from '@/footage/frame-source';
import { StillSource } from '@/footage/still-source';
import type { ShotMedia } from '@/wire/answers';
import type { PreparedLayer } from './placed';
import { spend } from './spent';

/** Decodes the pictures and draws the mattes that scenes need, and keeps both. */
export class PictureEngine {
  readonly shots: Record<string, Shot> = {};
  private readonly cache: FrameCache;
  private readonly sources = new Map<string, PictureSource>();
  private readonly mattes = new MatteCache(96e6);

  /**
   * @param cacheBytes most bytes of decoded pictures to hold.
   * @param onDecoded told of every frame that has been decoded.
   * @param workCopies whether copies that step quickly may stand for the shots; never for an export.
   */
  constructor(
    media: readonly ShotMedia[],
    readonly cacheBytes: number,
    private readonly onDecoded: (shotId: string, frame: number, planes: PicturePlanes) => void = () => {},
    private readonly workCopies = false,
  ) {
    this.cache = new FrameCache(cacheBytes);
    for (const each of media) this.take(each);
  }

  /** Takes in a shot, or what has become known of one that it has. */
  take({ shot, url, timestamps, keyFrames, stills, work }: ShotMedia) {
    this.shots[shot.id] = shot;
    if (this.sources.has(shot.id)) return;
    const told = (frame: number, planes: PicturePlanes) => this.onDecoded(shot.id, frame, planes);
    if (stills) {
      this.sources.set(shot.id, new StillSource(shot.id, url, shot.frameCount, this.cache, told));
      return;
    }
    const file = (this.workCopies && work) || { url, timestamps, keyFrames };
    const index = {
      timestamps: Float64Array.from(file.timestamps),
      keyFrames: Uint32Array.from(file.keyFrames),
    };
    this.sources.set(shot.id, new FrameSource(shot.id, file.url, index, shot.colour, this.cache, told));
  }

  /** Decodes what is missing and returns the scene's layers ready to draw. */
  async prepare(scene: Scene, quality: number): Promise<PreparedLayer[]> {
    const start = performance.now();
    const planes = await Promise.all(
      scene.layers.map((draw) => (scene.paint === 'matte' && !isKeyed(draw) ? null : this.picture(draw))),
    );
    spend('decode', start);
    return scene.layers.map((draw, i) => this.withMatte(scene, draw, planes[i], quality));
  }

  /** The scene's layers ready to draw, or null when a picture is not decoded yet. */
  prepareNow(scene: Scene, quality: number): PreparedLayer[] | null {
    const layers: PreparedLayer[] = [];
    for (const draw of scene.layers) {
      const needed = scene.paint === 'picture' || isKeyed(draw);
      const planes = needed ? this.cache.get(draw.shotId, draw.sourceFrame) : null;
      if (!planes && needed) return null;
      layers.push(this.withMatte(scene, draw, planes, quality));
    }
    return layers;
  }

  picture(draw: Pick<LayerDraw, 'shotId' | 'sourceFrame'>): Promise<PicturePlanes> {
    const source = this.sources.get(draw.shotId);
    if (!source) return Promise.reject(new Error('This shot is not part of the crossing.'));
    return source.frame(draw.sourceFrame);
  }

  /** The traced shot's picture where it is keyed, for measuring; null where it is not, or has no picture there. */
  async keyedPicture(document: CrossingDocument, frame: number): Promise<PicturePlanes | null> {
    const layer = tracedLayer(document);
    const shot = layer && document.chromas[layer.id] && this.shots[layer.shotId];
    const sourceFrame = shot ? shownSourceFrame(document, layer, shot, frame) : null;
    return shot && sourceFrame !== null ? this.picture({ shotId: shot.id, sourceFrame }) : null;
  }

  /** Decodes these frames of a shot when there is nothing more urgent, as far as they fit the cache. */
  readAhead(shotId: string, frames: readonly number[]) {
    this.sources.get(shotId)?.readAhead(frames);
  }

  /** Gives up what was asked for and is not in this scene. */
  keepOnly(scene: Scene) {
    for (const [shotId, source] of this.sources)
      source.keepOnly(
        new Set(scene.layers.filter((draw) => draw.shotId === shotId).map((draw) => draw.sourceFrame)),
      );
  }

  /** Bytes of decoded pictures held now. */
  get heldBytes(): number {
    return this.cache.heldBytes;
  }

  async close() {
    await Promise.all([...this.sources.values()].map((source) => source.close()));
  }

  private withMatte(
    { paint }: Scene,
    draw: LayerDraw,
    planes: PicturePlanes | null,
    quality: number,
  ): PreparedLayer {
    const start = performance.now();
    const matte =
      draw.cut.extent === 'outlined'
        ? this.mattes.get(draw, draw.cut, this.shots[draw.shotId], matteScale(draw, quality), planes)
        : null;
    spend('matte', start);
    return { draw, planes: paint === 'picture' ? planes : null, matte };
  }
}

/** Mattes by what they were drawn from, bounded in bytes. */
class MatteCache {
  private readonly scratch = new MatteScratch();
  private entries: {
    layerId: string;
    /** Of a keyed colour, which is another in every picture. */
    sourceFrame: number | null;
    cut: OutlinedCut;
    scale: number;
    matte: Matte;
  }[] = [];
  private bytes = 0;

  constructor(private readonly budget: number) {}

  get(
    { layerId, sourceFrame: shown }: LayerDraw,
    cut: OutlinedCut,
    shot: Shot,
    scale: number,
    planes: PicturePlanes | null,
  ): Matte {
    const sourceFrame = cut.key ? shown : null;
    const at = this.entries.findIndex(
      (entry) =>
        entry.layerId === layerId &&
        entry.scale === scale &&
        entry.sourceFrame === sourceFrame &&
        sameCut(entry.cut, cut),
    );
    const entry =
      at >= 0
        ? this.entries.splice(at, 1)[0]
        : { layerId, sourceFrame, cut, scale, matte: matteOf(cut, shot, scale, this.scratch, planes) };
    if (at < 0) this.bytes += entry.matte.alpha.length;
    this.entries.push(entry);
    while (this.bytes > this.budget && this.entries.length > 1)
      this.bytes -= this.entries.shift()!.matte.alpha.length;
    return entry.matte;
  }
}

function isKeyed({ cut }: LayerDraw): boolean {
  return cut.extent === 'outlined' && cut.key !== null;
}

function sameCut(a: OutlinedCut, b: OutlinedCut): boolean {
  return (
    a.keeps === b.keeps &&
    a.full === b.full &&
    sameRow(a.key, b.key) &&
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
