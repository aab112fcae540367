import { LRUCache } from 'lru-cache';
import { type FrameReading, leastTrace, type Unread } from '@/core/checks/edge-checks';
import { layerSourceFrame, shownSourceFrame } from '@/core/compose/source-frames';
import { tableOf } from '@/core/time/frame-table';
import type { CrossingDocument, EdgeSettings, OutlineRow } from '@/core/document/tables';
import { movingEdgeReading } from '@/core/carry/edge-reading';
import type { EdgeReading } from '@/core/edge/profile';
import { walkOutline } from '@/core/edge/strip';
import { edgeAt, shapeAt, speedAcross } from '@/core/outline';
import type { PictureEngine } from './engine';
import { ShotFrames } from './shot-frames';

/** Least length of line in the frame, px, that is worth reading. */
const leastLine = 60;
/** Length of line in the frame, px, along which an edge is to be expected. */
const longLine = 240;
const mostReadings = 8000;
/** Bytes of pictures held while reading. */
const heldPictures = 64e6;
/** Reads a crossing's edges off its pictures, frame by frame. */
export class EdgeReader {
  private readonly readings = new LRUCache<string, { reading: EdgeReading | null }>({ max: mostReadings });

  private readonly frames: ShotFrames;

  constructor(
    private readonly engine: PictureEngine,
    private document: CrossingDocument,
  ) {
    this.frames = new ShotFrames(engine, heldPictures);
  }

  /** Lets go of pictures; what was read of them is remembered. */
  rest() {
    this.frames.rest();
  }

  setDocument(document: CrossingDocument) {
    this.document = document;
  }

  /** The source frame of an outline's shot at a crossing frame. */
  source(outline: OutlineRow, frame: number): number {
    const layer = this.document.layers[outline.layerId];
    return layerSourceFrame(this.document, layer, this.engine.shots[layer.shotId], frame);
  }

  /** The first crossing frame that shows a source frame; null where none does. */
  crossingFrame(outline: OutlineRow, source: number): number | null {
    const layer = this.document.layers[outline.layerId];
    const shot = this.engine.shots[layer.shotId];
    return tableOf(layer, this.document.crossing, shot).firsts.get(source) ?? null;
  }

  /** An outline's line as the picture of its shot has it at a crossing frame; null where too little of it is there. */
  lineAt(outlineId: string, frame: number) {
    const outline = this.document.outlines[outlineId];
    const layer = outline && this.document.layers[outline.layerId];
    const shot = layer && this.engine.shots[layer.shotId];
    if (!shot) return null;
    const source = shownSourceFrame(this.document, layer, shot, frame);
    if (source === null) return null;
    const shape = shapeAt(this.document.poses[outlineId] ?? [], source, outline);
    if (!('coordinates' in shape)) return null;
    const walk = walkOutline(outline, shape.coordinates, shot, 1);
    if (walk.places.length / 2 < leastLine) return null;
    const edge: EdgeSettings = edgeAt(outline, this.document.edges[outlineId] ?? [], source);
    const posed = shape.state === 'posed';
    return { outline, shot, walk, coordinates: shape.coordinates, source, edge, posed };
  }

  /** What these frames say of the edge, where half of the line agrees on it. */
  async readAll(outline: OutlineRow, frames: readonly number[]): Promise<FrameReading[]> {
    const readings: FrameReading[] = [];
    for (const frame of frames) {
      const reading = await this.read(outline, frame);
      if (reading && 'reading' in reading && reading.reading.support >= 0.5) readings.push(reading);
    }
    return readings;
  }

  /**
   * What a crossing frame says of the edge; null where it says nothing. Remembered by shot, frame and line.
   *
   * @param turn awaited before each picture is looked at.
   */
  async read(
    outline: OutlineRow,
    frame: number,
    turn?: () => Promise<void>,
  ): Promise<FrameReading | Unread | null> {
    const at = this.lineAt(outline.id, frame);
    if (!at) return null;
    const { shot, walk, coordinates, source, edge, posed } = at;
    const key = `${shot.id} ${source} ${outline.kind} ${outline.sweptSide} ${coordinates.map((value) => Math.round(value * 50)).join(',')}`;
    let held = this.readings.get(key);
    if (!held) {
      const { frames, toPicture } = await this.frames.of(shot.id, source, turn);
      held = {
        reading: await movingEdgeReading(frames, source, { shot, outline, coordinates, walk, toPicture }),
      };
      this.readings.set(key, held);
    }
    const { reading } = held;
    const middle = 2 * (walk.places.length >> 2);
    const place = [walk.places[middle], walk.places[middle + 1]] as const;
    if (!reading || reading.support < leastTrace)
      return walk.places.length / 2 < longLine ? null : { frame, place };
    const speed = speedAcross(outline.kind, this.document.poses[outline.id] ?? [], source);
    return { frame, posed, edge, speed, reading, place };
  }
}
