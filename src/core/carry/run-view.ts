import type { Passage, EdgeLine, StraightPicture } from '../edge/straight';
import { type EdgeSoftness, softReach } from '../edge/softness-profile';
import { type Affine, applyAffine, identity, invert } from '../geometry/affine';
import { movingMean } from '../numbers/moving-mean';
import { median } from '../numbers/quantile';
import type { FramePicture } from '../picture/frame-picture';
import { behindMotion, localShifts, still } from './behind-way';
import type { FollowSettings } from './follow-settings';
import type { Frames } from './frames';
import type { RunContext } from './run-state';

/** A frame that shows what lies behind, how many frames away it is, and the way there. */
export interface Behind extends Passage {
  picture: FramePicture;
  frames: number;
}

/** What a run is seen in: its frames, how fast its places go, and what lies behind them. */
export class RunView {
  protected readonly frames: Frames;
  protected readonly direction: 1 | -1;
  protected readonly settings: FollowSettings;
  protected objectMap: Affine = identity;
  /** px a frame, of what lies behind. */
  protected behindWay: (Passage & { frame: number; frames: number }) | null = null;
  protected softness: EdgeSoftness;
  /** px between samples. */
  protected grain = 1;
  /** px a frame of time across the line, against what lies behind. */
  protected speed: Float64Array = new Float64Array(0);
  protected own: Float64Array = new Float64Array(0);

  constructor({ frames, direction, settings }: RunContext) {
    this.frames = frames;
    this.direction = direction;
    this.settings = settings;
    this.softness = { sigma: settings.learning.sigma, shutter: 0 };
  }

  /** A frame as it is followed in: without the noise that hides how well things fit. */
  protected async picture(frame: number): Promise<FramePicture> {
    const { denoised } = await this.frames.picture(frame);
    await this.breathe();
    return denoised;
  }

  protected async breathe() {
    if (this.frames.breathe) await this.frames.breathe();
  }

  protected speedOf(line: EdgeLine): Float64Array {
    const behind = this.behindWay;
    const back = behind?.map ?? identity;
    const fits = behind?.dx.length === line.count;
    const per = behind ? Math.abs(behind.frames) : 1;
    const speed = new Float64Array(line.count);
    for (let i = 0; i < line.count; i++) {
      const [ox, oy] = applyAffine(this.objectMap, line.x[i], line.y[i]);
      let [bx, by] = applyAffine(back, line.x[i], line.y[i]);
      if (fits) [bx, by] = [bx + behind.dx[i], by + behind.dy[i]];
      const sign = behind && Math.sign(behind.frames) !== this.direction ? -1 : 1;
      const dx = ox - line.x[i] - (sign * (bx - line.x[i])) / per;
      const dy = oy - line.y[i] - (sign * (by - line.y[i])) / per;
      speed[i] = this.direction * (dx * line.nx[i] + dy * line.ny[i] + this.own[i] * this.settings.ownKept);
    }
    return movingMean(speed, 4);
  }

  /** A frame in which the edge has gone from the strip, and the way there of what lies behind. */
  protected async behind(frame: number, line: EdgeLine): Promise<Behind | null> {
    const { reach, beyond, farthest, behind: asks } = this.settings;
    const soft = softReach(this.softness, median(this.speed));
    const speeds = Float64Array.from(this.speed).sort();
    const trailing = speeds[speeds.length >> 1] < 0;
    // The slower quarter decides.
    const slow = trailing
      ? speeds[Math.floor(0.75 * speeds.length)]
      : speeds[Math.floor(0.25 * speeds.length)];
    const need = reach * this.grain + asks.ofBeyond * beyond * this.grain + 2 * soft + asks.clearance;
    let far = Math.min(farthest, Math.ceil(need / Math.max(asks.leastPace, Math.abs(slow))));
    // A trailing edge lays bare later, a leading one has done so before.
    let way = trailing ? 1 : -1;
    const room = (way: number) => (way > 0 ? this.frames.count - 1 - frame : frame);
    // At the shot's end only what is outside already can be seen elsewhere.
    if (room(way) < 1) [way, far] = [-way, 1];
    // As many frames away as before do as well, if the edge has gone from the strip there, too: their way is known.
    const asked = this.behindWay;
    const before = asked ? way * asked.frames : 0;
    if (before >= asks.keptFrom * far && before <= asks.keptTo * far + asks.keptFrames) far = before;
    far = Math.min(far, room(way));
    if (far < 1) return null;
    const there = await this.picture(frame + way * far);
    if (asked && asked.frame === frame && asked.frames === way * far && asked.dx.length === line.count)
      return { picture: there, ...asked };
    const here = await this.picture(frame);
    const guess = this.scaled(way * far);
    const known = this.behindWay !== null && this.behindWay.frames === way * far;
    const more = known ? 0 : far;
    const search = ([0, 1] as const).map((k) => asks.search[k] + asks.searchPerFrame[k] * more);
    const along = this.objectShift(line, way * far * this.direction);
    const found = behindMotion(here, there, line, soft, guess, [search[0], search[1]], along);
    await this.breathe();
    if (!found) return null;
    const shifts = localShifts(here, there, line, { soft, whole: found, object: along });
    this.behindWay = { frame, frames: way * far, map: found.map, ...shifts };
    return { picture: there, ...this.behindWay };
  }

  /** How far the object takes the line's middle in so many steps, px. */
  protected objectShift(line: EdgeLine, steps: number): [number, number] {
    const middle = line.count >> 1;
    const [x, y] = applyAffine(this.objectMap, line.x[middle], line.y[middle]);
    return [(x - line.x[middle]) * steps, (y - line.y[middle]) * steps];
  }

  /** What is known of the way of what lies behind, over so many frames. */
  protected scaled(frames: number): Affine {
    const known = this.behindWay;
    if (!known) return identity;
    if (known.frames === frames) return known.map;
    const map = Math.sign(known.frames) === Math.sign(frames) ? known.map : invert(known.map);
    const share = Math.abs(frames / known.frames);
    return [
      1 + (map[0] - 1) * share,
      map[1] * share,
      map[2] * share,
      1 + (map[3] - 1) * share,
      map[4] * share,
      map[5] * share,
    ];
  }

  /** Without what the object still covers in the other frame. */
  protected uncovered(bare: StraightPicture, frames: number, speed = this.speed): StraightPicture {
    const { paceLow, paceHigh, margin } = this.settings.behind;
    for (let i = 0; i < bare.count; i++) {
      const soft = softReach(this.softness, speed[i]);
      // Where the edge is there; how far it goes is not known exactly.
      const gone = speed[i] * frames;
      const edge = gone * (gone < 0 ? paceLow : paceHigh) + soft + margin;
      for (let m = 0; m < bare.across; m++) {
        const far = bare.from + m * bare.step;
        if (far < edge) bare.y[i * bare.across + m] = NaN;
      }
    }
    return bare;
  }

  /** Frames that show what lies behind: that which is asked anyway, and one in which the edge has gone so many px. */
  protected async shownBehind(frame: number, line: EdgeLine, px: number): Promise<Behind[]> {
    const near = await this.behind(frame, line);
    if (!near) return [];
    const way = Math.sign(near.frames);
    const pace = Math.max(this.settings.behind.leastPace, Math.abs(median(this.speed)));
    const room = way > 0 ? this.frames.count - 1 - frame : frame;
    const far = Math.min(this.settings.farthest, room, Math.ceil(px / pace));
    if (far <= Math.abs(near.frames)) return [near];
    const there = await this.picture(frame + way * far);
    const here = await this.picture(frame);
    const soft = softReach(this.softness, median(this.speed));
    const along = this.objectShift(line, way * far * this.direction);
    const found = behindMotion(
      here,
      there,
      line,
      soft,
      this.scaled(way * far),
      this.settings.behind.search,
      along,
    );
    if (!found) return [near];
    return [near, { picture: there, frames: way * far, map: found.map, ...still(line.count) }];
  }
}
