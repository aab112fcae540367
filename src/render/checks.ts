import { crossingFindings } from '@/core/checks/crossing-checks';
import {
  canJudge,
  edgeFindings,
  type FrameReading,
  isBlurred,
  type Unread,
  usualShutter,
} from '@/core/checks/edge-checks';
import { type Finding, findingsInOrder, isLineFix, type LineFix } from '@/core/checks/findings';
import { assertNever } from '@/core/model/assert-never';
import {
  blurWithMovement,
  drawOut,
  matchAtPoints,
  matchSoftness,
  pushOut,
  putOnEdge,
  removePoses,
  shutterOfPicture,
  smoothAt,
} from '@/core/checks/fixes';
import { missingFootage } from '@/core/checks/missing-footage';
import { mendMove } from '@/core/checks/move-fixes';
import type { Grade } from '@/core/colour/grade';
import { colourStatistics, lightOf, matchingGrade } from '@/core/colour/matching';
import { gradeAt } from '@/core/compose/moves';
import { shownSourceFrame } from '@/core/compose/source-frames';
import { shrinkPlanes } from '@/core/picture/planes';
import { yuvToRgb } from '@/core/colour/matrix';
import { setOutline } from '@/core/actions/actions';
import { otherSide } from '@/core/model/choices';
import { applyChanges, playedRange } from '@/core/document/document';
import type { CrossingDocument, OutlineRow } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { type EdgeMeasure, measureEdge } from '@/core/edge/measure';
import { widthsAtPoints } from '@/core/edge/point-widths';
import { type MovingSide, readMovingSide, sceneShift } from '@/core/edge/moving-side';
import { straighten } from '@/core/edge/strip';
import { resizedLuma } from '@/core/motion/luma';
import { uprightLuma } from '@/core/motion/upright';
import { chromaAround } from '@/core/matte/keyed';
import { drawOutlines } from '@/core/matte/outline-matte';
import { NoPushIn, type PushIn, pushIn, type Remedy } from '@/core/move/push-in';
import { MatteScratch } from '@/core/matte/matte';
import { shapeAtMoment, shutterAt } from '@/core/outline';
import { Superseded } from '@/footage/frame-source';
import type { ShotMedia } from '@/wire/answers';
import { measureCoverage } from './coverage';
import { EdgeReader } from './edge-reader';
import { PictureEngine } from './engine';
import { letMessagesIn } from './let-messages-in';

/** ms between two reports of how far a look has come. */
const progressEvery = 400;

/** Frames that a draft's softness is judged by. */
const softnessLooks = 9;

/** Bytes of decoded pictures held: those on the way from a key frame to the frames that are looked at. */
const heldPictures = 40e6;

/** ms after which it is looked whether standing aside is over, and after which memory is given back meanwhile. */
const [lookAgainAfter, restAfter] = [60, 1500];

/** Width in px at which the two sides of a line are compared, and the frames away at which, the likeliest first. */
const sideWidth = 320;
const sideFrames = [2, -2, 5, -5];

/** Width, px, at which the colours of two shots are compared. */
const matchWidth = 96;

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
  private readonly edges: EdgeReader;
  /** Counts documents, so that a run over an older one ends. */
  private run = 0;
  private paused = false;
  /** Names of the shots whose files were deleted, by their ids. */
  private readonly deleted: Record<string, string> = {};

  constructor(
    private document: CrossingDocument,
    media: readonly ShotMedia[],
    private readonly tell: (event: ChecksEvent) => void,
  ) {
    this.engine = new PictureEngine(media, heldPictures);
    this.edges = new EdgeReader(this.engine, document);
    media.forEach((each) => this.noteDeleted(each));
  }

  private noteDeleted({ deleted, shot }: ShotMedia) {
    if (deleted) this.deleted[shot.id] = shot.name;
  }

  change(changes: readonly RowChange[]) {
    this.replaceDocument(applyChanges(this.document, changes));
  }

  replaceDocument(document: CrossingDocument) {
    this.document = document;
    this.edges.setDocument(document);
    this.run++;
  }

  /** Takes in a shot that a layer may have been given, or what has become known of one. */
  takeShot(media: ShotMedia) {
    this.engine.take(media);
    this.noteDeleted(media);
  }

  /** Stands aside while the crossing plays or a hand drags. */
  pause(paused: boolean) {
    this.paused = paused;
  }

  /** Looks at everything anew; ends early when the document changes. */
  async inspect() {
    try {
      await this.look(++this.run);
    } catch (error) {
      if (!(error instanceof Superseded)) throw error;
    }
  }

  /** @throws Superseded once this run has been overtaken. */
  private async look(run: number) {
    const { document } = this;
    const turn = () => this.turn(run);
    const goOn = (frame: number) => frame % 8 !== 7 || turn().then(() => true);
    const coverage = await measureCoverage(document, this.engine, goOn, this.scratch);
    if (!coverage) return;
    const plain = [
      ...missingFootage(document, this.deleted),
      ...crossingFindings(document, this.engine.shots, coverage, (outline, source) =>
        this.edges.crossingFrame(outline, source),
      ),
    ];
    const unjudged: string[] = [];
    this.tell({ findings: findingsInOrder(plain), share: 0, unjudged });
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
        const reading = await this.edges.read(outline, frame, turn);
        await turn();
        if (reading && 'reading' in reading) list.push(reading);
        else if (reading) lost.push(reading);
        done++;
        if (performance.now() - told > progressEvery) {
          told = performance.now();
          this.tell({
            findings: findingsInOrder(plain),
            share: done / (outlines.length * (last - first + 1)),
            unjudged,
          });
        }
      }
      if (list.length + lost.length > 0 && !canJudge(list, lost)) unjudged.push(outline.id);
      seen.push(...edgeFindings(outline, list, document.layers[outline.layerId].keeps, lost));
    }
    this.tell({ findings: findingsInOrder([...plain, ...seen]), share: 1, unjudged });
    // Until something changes nothing is looked at.
    await this.rest();
  }

  /** The edge of an outline at a frame, whole or about a place (px of the shot); null where there is none. */
  async measure(
    outlineId: string,
    frame: number,
    place: readonly [number, number] | null,
  ): Promise<EdgeMeasure | null> {
    const at = this.edges.lineAt(outlineId, frame);
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
      { scale: 1, width: shot.width, height: shot.height, scratch: this.scratch },
      alpha,
    );
    const read = await this.edges.read(outline, frame);
    const expected = read && 'reading' in read && read.reading.support >= 0.5 ? read.reading.offset : null;
    return measureEdge(planes, shot, { alpha, place, expected }, walk);
  }

  /**
   * Which side of a line drawn on a source frame the moving edge leaves behind, read from frames before and after;
   * null where nothing about the line moves across it.
   */
  async movingSide(
    shotId: string,
    sourceFrame: number,
    coordinates: readonly number[],
  ): Promise<MovingSide | null> {
    const shot = this.engine.shots[shotId];
    if (!shot) return null;
    const lumaAt = async (frame: number) => {
      const { values, width, height } = uprightLuma(
        await this.engine.picture({ shotId, sourceFrame: frame }),
        shot.rotation,
      );
      return resizedLuma(values, width, height, sideWidth, Math.round((sideWidth * height) / width));
    };
    const here = await lumaAt(sourceFrame);
    let unsure: MovingSide | null = null;
    for (const by of sideFrames) {
      const frame = sourceFrame + by;
      if (frame < 0 || frame >= shot.frameCount) continue;
      const scene = sceneShift(shot.motion, sourceFrame, frame);
      const read = readMovingSide(here, await lumaAt(frame), { frames: by, shot, scene }, coordinates);
      if (read?.sure) return read;
      unsure ??= read;
    }
    return unsure;
  }

  /** Row changes that give the edge the picture's softness, at one frame or keyed at every pose. */
  async match(outlineId: string, frame: number, keyed: boolean): Promise<RowChange[]> {
    const outline = this.document.outlines[outlineId];
    if (!outline) return [];
    const poses = this.document.poses[outlineId] ?? [];
    const frames = keyed
      ? poses.map((pose) => this.edges.crossingFrame(outline, pose.frame)).filter((at) => at !== null)
      : [frame];
    const readings = await this.edges.readAll(outline, frames);
    return matchSoftness(this.document, outline, readings, (at) => this.edges.source(outline, at), keyed);
  }

  /** Row changes that give the edge the picture's softness at each point, at one frame. */
  async matchPoints(outlineId: string, frame: number): Promise<RowChange[]> {
    const at = this.edges.lineAt(outlineId, frame);
    const read = at && (await this.edges.read(at.outline, frame));
    if (!at || !read || !('reading' in read)) return [];
    const { outline, shot, walk, coordinates, source } = at;
    const planes = await this.engine.picture({ shotId: shot.id, sourceFrame: source });
    const widths = widthsAtPoints(planes, shot, walk, coordinates, read.reading.offset);
    return matchAtPoints(this.document, outline, source, widths, read.speed);
  }

  /**
   * Row changes that make an edge as soft as the picture's, for a first draft: by its movement, where most frames that are looked at
   * are blurred as movement blurs them; else at each point of one frame.
   *
   * @param frame at which its points are measured.
   * @returns also the shutter, degrees; null where the softness is not from movement.
   */
  async draftSoftness(
    outlineId: string,
    frame: number,
  ): Promise<{ changes: RowChange[]; shutter: number | null }> {
    const outline = this.document.outlines[outlineId];
    if (!outline) return { changes: [], shutter: null };
    const poses = this.document.poses[outlineId] ?? [];
    const stride = Math.max(1, Math.floor(poses.length / softnessLooks));
    const frames = poses
      .filter((_, k) => k % stride === 0)
      .map((pose) => this.edges.crossingFrame(outline, pose.frame))
      .filter((at) => at !== null);
    const readings = await this.edges.readAll(outline, frames);
    const blurred = readings.filter(isBlurred);
    if (readings.length > 0 && blurred.length > readings.length / 2) {
      const shutter = shutterOfPicture(blurred);
      const source = (at: number) => this.edges.source(outline, at);
      return { changes: blurWithMovement(this.document, outline, readings, source, shutter), shutter };
    }
    const changes = await this.matchPoints(outlineId, frame);
    return {
      changes: changes.length > 0 ? changes : await this.match(outlineId, frame, false),
      shutter: null,
    };
  }

  /** Row changes that mend a finding; none where nothing can. */
  async mend(finding: Finding): Promise<RowChange[]> {
    const { fix, outlineId } = finding;
    const outline = this.document.outlines[outlineId ?? ''];
    if (fix && outline && isLineFix(fix)) return this.mendLine(finding, fix, outline);
    return mendMove(this.document, this.engine.shots, finding);
  }

  private async mendLine(finding: Finding, fix: LineFix, outline: OutlineRow): Promise<RowChange[]> {
    const { document } = this;
    const source = (frame: number) => this.edges.source(outline, frame);
    const meant = (at: number) => {
      const frame = this.edges.crossingFrame(outline, at);
      return frame !== null && frame >= finding.from && frame <= finding.to;
    };
    // Read as the line lies now: it may have been moved since it was looked at.
    const read = async (from: number, to: number) =>
      this.edges.readAll(
        outline,
        Array.from({ length: to - from + 1 }, (_, k) => from + k),
      );
    const shot = this.engine.shots[document.layers[outline.layerId].shotId];
    switch (fix) {
      case 'push out':
        return pushOut(document, this.engine.shots, outline, finding.worst);
      case 'draw out':
        return drawOut(document, outline, shot, meant);
      case 'flip side':
        return setOutline(document, outline.id, { sweptSide: otherSide(outline.sweptSide) });
      case 'keep as posed':
        return setOutline(document, outline.id, { afterLast: 'hold' });
      case 'smooth pose':
        return smoothAt(document, outline.id, (at) => at === source(finding.worst));
      case 'remove poses':
        return removePoses(document, outline.id, meant);
      case 'put on edge': {
        const readings = await read(finding.from, finding.to);
        return putOnEdge(
          document,
          outline,
          readings.filter(({ posed }) => posed),
          source,
        );
      }
      case 'pose on edge':
        return putOnEdge(document, outline, await read(finding.worst, finding.worst), source);
      case 'match softness':
        return matchSoftness(document, outline, await read(finding.from, finding.to), source, false);
      case 'blur with movement':
        return blurWithMovement(
          document,
          outline,
          await read(finding.from, finding.to),
          source,
          usualShutter,
        );
      case 'blur as picture': {
        const readings = await read(finding.from, finding.to);
        return blurWithMovement(document, outline, readings, source, shutterOfPicture(readings));
      }
      default:
        return assertNever(fix);
    }
  }

  /** Row changes that push in through an opening, or back out of it; where that cannot be, why, and what would help. */
  async pushIn(asked: PushIn): Promise<RowChange[] | { refusal: string; remedy: Remedy | null }> {
    const pictures = await this.engine.cutPictures(this.document, asked.back ? asked.from : asked.to);
    try {
      return pushIn(this.document, this.engine.shots, asked, this.scratch, pictures);
    } catch (error) {
      if (error instanceof NoPushIn) return { refusal: error.message, remedy: error.remedy };
      throw error;
    }
  }

  /**
   * The grade that gives a layer the colours of another over frames that are seen together; null where there are none.
   *
   * @param frames crossing frames that are looked at, those on which both have a picture.
   */
  async matchColours(layerId: string, otherId: string, frames: readonly number[]): Promise<Grade | null> {
    const { document } = this;
    const { shots } = this.engine;
    const [own, other] = [layerId, otherId].map((id) => document.layers[id]);
    const light: [own: number[], other: number[]] = [[], []];
    for (const frame of frames) {
      const seen = [own, other].map((layer) => shownSourceFrame(document, layer, shots[layer.shotId], frame));
      if (seen.some((source) => source === null)) continue;
      for (const [k, layer] of [own, other].entries()) {
        const planes = await this.engine.picture({ shotId: layer.shotId, sourceFrame: seen[k]! });
        const height = Math.max(2, Math.round((matchWidth * planes.height) / planes.width));
        const small = shrinkPlanes(
          planes,
          Math.min(planes.width, matchWidth),
          Math.min(planes.height, height),
        );
        for (const value of lightOf(small, k === 1 ? gradeAt(document, otherId, frame) : null))
          light[k].push(value);
      }
    }
    if (light[0].length === 0) return null;
    return matchingGrade(colourStatistics(light[0]), colourStatistics(light[1]));
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
    const at = this.edges.lineAt(outlineId, frame);
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

  /** Lets go of pictures and decoders until something is looked at again. */
  private async rest() {
    this.edges.rest();
    await this.engine.rest();
  }

  /**
   * Lets messages in, and waits while this stands aside.
   *
   * @throws Superseded when this run has been overtaken.
   */
  private async turn(run: number): Promise<void> {
    await letMessagesIn();
    const since = performance.now();
    let resting = false;
    while (this.paused && run === this.run) {
      // What plays for long needs the memory too.
      if (!resting && performance.now() - since >= restAfter) {
        resting = true;
        await this.rest();
      }
      await new Promise((done) => setTimeout(done, lookAgainAfter));
    }
    if (run !== this.run) throw new Superseded();
  }
}
