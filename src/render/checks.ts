import { crossingFindings } from '@/core/checks/crossing-checks';
import {
  canJudge,
  edgeFindings,
  type FrameReading,
  leastTrace,
  type Unread,
  usualShutter,
} from '@/core/checks/edge-checks';
import type { Finding } from '@/core/checks/findings';
import {
  blurWithMovement,
  drawOut,
  matchSoftness,
  pushOut,
  putOnEdge,
  removePoses,
  shutterOfPicture,
  smoothAt,
} from '@/core/checks/fixes';
import { coverageAt } from '@/core/compose/coverage-curve';
import { yuvToRgb } from '@/core/colour/matrix';
import { layerSourceFrame, shownSourceFrame } from '@/core/compose/scene';
import { applyChanges, type CrossingDocument, playedRange } from '@/core/document/document';
import type { RowChange } from '@/core/document/edit';
import { type EdgeSettings, type OutlineRow, type Shot } from '@/core/document/rows';
import { across, type EdgeMeasure, measureEdge, reach } from '@/core/edge/measure';
import { type EdgeReading, readEdge } from '@/core/edge/profile';
import { straighten, walkOutline } from '@/core/edge/strip';
import { chromaAround } from '@/core/matte/keyed';
import { drawOutlines } from '@/core/matte/outline-matte';
import { MatteScratch } from '@/core/matte/matte';
import { edgeAt, shapeAt, shapeAtMoment, shutterAt, speedAcross } from '@/core/outline';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';

/** Least length of line in the frame, px, that is worth reading. */
const leastLine = 60;
/** Length of line in the frame, px, along which an edge is to be expected. */
const longLine = 240;
const mostReadings = 8000;
/** ms between two reports of how far a look has come. */
const progressEvery = 400;

/** What the checks tell the page. */
export interface ChecksEvent {
  findings: Finding[];
  /** How much of the crossing has been looked at, 0 to 1. */
  share: number;
  /** Outlines whose edge the picture does not show clearly enough to judge. */
  unjudged: string[];
}

/** Looks at a crossing over and over while it is worked on, and says what is wrong; lives in a worker. */
export class Checks {
  private readonly engine: PictureEngine;
  private readonly scratch = new MatteScratch();
  private readonly readings = new Map<string, EdgeReading | null>();
  /** First crossing frame that shows a source frame, by layer. */
  private readonly framesOf = new Map<string, Map<number, number>>();
  /** Counts documents, so that a run over an older one ends. */
  private run = 0;
  private paused = false;

  constructor(
    private document: CrossingDocument,
    media: readonly ShotMedia[],
    private readonly tell: (event: ChecksEvent) => void,
  ) {
    this.engine = new PictureEngine(media, 96e6);
  }

  change(changes: readonly RowChange[]) {
    this.replaceDocument(applyChanges(this.document, changes));
  }

  replaceDocument(document: CrossingDocument) {
    this.document = document;
    this.framesOf.clear();
    this.run++;
  }

  setShot(shot: Shot) {
    if (this.engine.shots[shot.id]) this.engine.shots[shot.id] = shot;
  }

  /** Stands aside while the crossing plays or a hand drags. */
  pause(paused: boolean) {
    this.paused = paused;
  }

  /** Looks at everything anew; ends early when the document changes. */
  async look() {
    const run = ++this.run;
    const { document } = this;
    const coverage = new Float32Array(document.crossing.length);
    for (let frame = 0; frame < coverage.length; frame++) {
      const planes = await this.engine.keyedPicture(document, frame);
      coverage[frame] = coverageAt(document, this.engine.shots, frame, this.scratch, planes);
      if (frame % 8 === 7 && !(await this.mayGoOn(run))) return;
    }
    const plain = crossingFindings(document, this.engine.shots, coverage, (outline, source) =>
      this.crossingFrame(outline, source),
    );
    const unjudged: string[] = [];
    this.tell({ findings: inOrder(plain), share: 0, unjudged });
    const outlines = Object.values(document.outlines).filter(
      ({ layerId }) => document.layers[layerId]?.visible,
    );
    const [first, last] = playedRange(document);
    const seen: Finding[] = [];
    let done = 0;
    let told = performance.now();
    for (const outline of outlines) {
      const list: FrameReading[] = [];
      const lost: Unread[] = [];
      for (let frame = first; frame <= last; frame++) {
        const reading = await this.read(outline, frame);
        if (!(await this.mayGoOn(run))) return;
        if (reading && 'reading' in reading) list.push(reading);
        else if (reading) lost.push(reading);
        done++;
        if (performance.now() - told > progressEvery) {
          told = performance.now();
          this.tell({
            findings: inOrder(plain),
            share: done / (outlines.length * (last - first + 1)),
            unjudged,
          });
        }
      }
      if (list.length + lost.length > 0 && !canJudge(list, lost)) unjudged.push(outline.id);
      seen.push(...edgeFindings(outline, list, document.layers[outline.layerId].keeps, lost));
    }
    this.tell({ findings: inOrder([...plain, ...seen]), share: 1, unjudged });
  }

  /** The edge of an outline at a frame, whole or about a place (px of the shot); null where there is none. */
  async measure(
    outlineId: string,
    frame: number,
    place: readonly [number, number] | null,
  ): Promise<EdgeMeasure | null> {
    const at = await this.lineAt(outlineId, frame);
    if (!at) return null;
    const { outline, shot, walk, coordinates, source, edge } = at;
    const planes = await this.engine.picture({ shotId: shot.id, sourceFrame: source });
    const poses = this.document.poses[outlineId] ?? [];
    const shutter = shutterAt(outline, edge, poses, source);
    const alpha = new Uint8Array(shot.width * shot.height);
    const exposures = shutter ? shutter.moments.map((moment) => shapeAtMoment(poses, moment)) : [];
    drawOutlines(
      [{ outline: { ...outline, combine: 'add' }, edge, coordinates, exposures }],
      'empty',
      1,
      shot.width,
      shot.height,
      alpha,
      this.scratch,
    );
    return measureEdge(planes, shot, alpha, walk, place);
  }

  /** Row changes that give the edge the picture's softness, at one frame or keyed at every pose. */
  async match(outlineId: string, frame: number, keyed: boolean): Promise<RowChange[]> {
    const outline = this.document.outlines[outlineId];
    if (!outline) return [];
    const poses = this.document.poses[outlineId] ?? [];
    const frames = keyed
      ? poses.map((pose) => this.crossingFrame(outline, pose.frame)).filter((at) => at !== null)
      : [frame];
    const readings = await this.readAll(outline, frames);
    return matchSoftness(this.document, outline, readings, (at) => this.source(outline, at), keyed);
  }

  /** Row changes that mend a finding; none where nothing can. */
  async fix(finding: Finding): Promise<RowChange[]> {
    const { document } = this;
    const outline = finding.outlineId ? document.outlines[finding.outlineId] : null;
    if (!outline) return [];
    const source = (frame: number) => this.source(outline, frame);
    const meant = (at: number) => {
      const frame = this.crossingFrame(outline, at);
      return frame !== null && frame >= finding.from && frame <= finding.to;
    };
    // Read as the line lies now: it may have been moved since it was looked at.
    const read = async (from: number, to: number) =>
      this.readAll(
        outline,
        Array.from({ length: to - from + 1 }, (_, k) => from + k),
      );
    const shot = this.engine.shots[document.layers[outline.layerId].shotId];
    switch (finding.kind) {
      case 'ends open':
        return pushOut(document, this.engine.shots, outline, finding.worst);
      case 'end in frame':
        return drawOut(document, outline, shot, meant);
      case 'jitters':
        return smoothAt(document, outline.id, (at) => at === source(finding.worst));
      case 'stands still':
        return removePoses(document, outline.id, meant);
      case 'background peeks':
      case 'object is cut':
        return putOnEdge(
          document,
          outline,
          (await read(finding.from, finding.to)).filter(({ posed }) => posed),
          source,
        );
      case 'drifts':
        return putOnEdge(document, outline, await read(finding.worst, finding.worst), source);
      case 'too soft':
      case 'too hard':
        return matchSoftness(document, outline, await read(finding.from, finding.to), source, false);
      case 'not blurred':
      case 'blurs too much': {
        const readings = await read(finding.from, finding.to);
        const shutter = finding.kind === 'not blurred' ? usualShutter : shutterOfPicture(readings);
        return blurWithMovement(document, outline, readings, source, shutter);
      }
      default:
        return [];
    }
  }

  /** Mean chroma around a place of a shot (px), and its spread. */
  async chroma(shotId: string, sourceFrame: number, [x, y]: readonly [number, number], radius: number) {
    const planes = await this.engine.picture({ shotId, sourceFrame });
    return chromaAround(planes, this.engine.shots[shotId], x, y, radius);
  }

  /**
   * One frame's picture around the line, straightened: along the line from left to right, across it from outside
   * (top) to inside (bottom); null where the line is not in the picture.
   *
   * @param width columns that the whole line is drawn over.
   * @param height rows; px across the line are as many.
   */
  async strip(outlineId: string, frame: number, width: number, height: number) {
    const at = await this.lineAt(outlineId, frame, 1);
    if (!at) return null;
    const { shot, walk, source } = at;
    const planes = await this.engine.picture({ shotId: shot.id, sourceFrame: source });
    const strip = straighten(planes, shot, walk, (height - 1) / 2, 1);
    const m = yuvToRgb(planes.colour);
    const rgba = new Uint8ClampedArray(width * height * 4);
    for (let row = 0; row < height; row++) {
      for (let x = 0; x < width; x++) {
        const k = Math.min(strip.columns - 1, Math.floor(((x + 0.5) * strip.columns) / width));
        const i = Math.min(strip.rows - 1, row) * strip.columns + k;
        const o = (row * width + x) * 4;
        rgba[o + 3] = Number.isNaN(strip.y[i]) ? 0 : 255;
        for (let c = 0; c < 3; c++)
          rgba[o + c] =
            m[4 * c] * strip.y[i] + m[4 * c + 1] * strip.u[i] + m[4 * c + 2] * strip.v[i] + m[4 * c + 3];
      }
    }
    return { width, height, rgba };
  }

  async close() {
    this.run++;
    await this.engine.close();
  }

  /** Lets messages in; false when this run has been overtaken. */
  private async mayGoOn(run: number): Promise<boolean> {
    await new Promise((done) => setTimeout(done, 0));
    while (this.paused && run === this.run) await new Promise((done) => setTimeout(done, 60));
    return run === this.run;
  }

  private source(outline: OutlineRow, frame: number): number {
    const layer = this.document.layers[outline.layerId];
    return layerSourceFrame(this.document, layer, this.engine.shots[layer.shotId], frame);
  }

  private crossingFrame(outline: OutlineRow, source: number): number | null {
    const { layerId } = outline;
    let frames = this.framesOf.get(layerId);
    if (!frames) {
      frames = new Map();
      for (let frame = this.document.crossing.length - 1; frame >= 0; frame--)
        frames.set(this.source(outline, frame), frame);
      this.framesOf.set(layerId, frames);
    }
    return frames.get(source) ?? null;
  }

  private async lineAt(outlineId: string, frame: number, step = 1) {
    const outline = this.document.outlines[outlineId];
    const layer = outline && this.document.layers[outline.layerId];
    const shot = layer && this.engine.shots[layer.shotId];
    if (!shot) return null;
    const source = shownSourceFrame(this.document, layer, shot, frame);
    if (source === null) return null;
    const shape = shapeAt(this.document.poses[outlineId] ?? [], source, outline);
    if (!('coordinates' in shape)) return null;
    const walk = walkOutline(outline, shape.coordinates, shot, step);
    if (walk.places.length / 2 < leastLine / step) return null;
    const edge: EdgeSettings = edgeAt(outline, this.document.edges[outlineId] ?? [], source);
    const posed = shape.state === 'posed';
    return { outline, shot, walk, coordinates: shape.coordinates, source, edge, posed };
  }

  /** What these frames say of the edge, where half of the line agrees on it. */
  private async readAll(outline: OutlineRow, frames: readonly number[]): Promise<FrameReading[]> {
    const readings: FrameReading[] = [];
    for (const frame of frames) {
      const reading = await this.read(outline, frame);
      if (reading && 'reading' in reading && reading.reading.support >= 0.5) readings.push(reading);
    }
    return readings;
  }

  private async read(outline: OutlineRow, frame: number): Promise<FrameReading | Unread | null> {
    const at = await this.lineAt(outline.id, frame);
    if (!at) return null;
    const { shot, walk, coordinates, source, edge, posed } = at;
    const key = `${shot.id} ${source} ${outline.kind} ${outline.sweptSide} ${coordinates.map((value) => Math.round(value * 50)).join(',')}`;
    let reading = this.readings.get(key);
    if (reading === undefined) {
      const planes = await this.engine.picture({ shotId: shot.id, sourceFrame: source });
      reading = readEdge(straighten(planes, shot, walk, reach, across), walk.step);
      this.readings.set(key, reading);
      if (this.readings.size > mostReadings) this.readings.delete(this.readings.keys().next().value!);
    }
    const middle = 2 * (walk.places.length >> 2);
    const place = [walk.places[middle], walk.places[middle + 1]] as const;
    if (!reading || reading.support < leastTrace)
      return walk.places.length / 2 < longLine / walk.step ? null : { frame, place };
    const speed = speedAcross(outline.kind, this.document.poses[outline.id] ?? [], source);
    return { frame, posed, edge, speed, reading, place };
  }
}

function inOrder(findings: Finding[]): Finding[] {
  return findings.sort((a, b) => a.from - b.from || a.kind.localeCompare(b.kind));
}
