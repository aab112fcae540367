import { type ChainBelief, chainBelief, evenOffsets } from '../edge/chain';
import type { FramePicture } from '../picture/frame-picture';
import { LayerCosts, type ObjectMemory, type Surroundings } from '../edge/layer-costs';
import { sideColours, type SideColours } from '../edge/side-colours';
import { type EdgeSoftness, objectShare, softReach } from '../edge/softness-profile';
import { type EdgeLine, type Passage, straightPicture, type StraightPicture } from '../edge/straight';
import { type Affine, applyAffine, identity, invert } from '../geometry/affine';
import { attachedPlaces, pullAttached } from './attached';
import { bandMotion } from './band-motion';
import { bandBeside } from './band';
import { behindMotion, localShifts, still } from './behind-way';
import { evened } from './evened';
import { median } from '../numbers/quantile';
import { fittedSoftness } from './fitted-softness';
import type { Frames } from './frames';
import { darken, shadeOf } from './shade';

export interface FollowSettings {
  /** px that the edge is looked for about where it is expected. */
  reach: number;
  /** px beyond that which are compared. */
  beyond: number;
  stiffness: number;
  leap: number;
  /** Most frames between a frame and the one that lays bare what lies behind. */
  farthest: number;
  noise: number;
  /** How much of a place's own movement goes on. */
  ownKept: number;
  /** Share of the object's memory that each frame renews. */
  renewal: number;
}

export const usualSettings: FollowSettings = {
  reach: 20,
  beyond: 14,
  stiffness: 1.4,
  leap: 0.02,
  farthest: 24,
  noise: 2.5,
  ownKept: 0.7,
  renewal: 0.25,
};

/** What one frame said of a run. */
export interface RunSight {
  belief: ChainBelief;
  /** How well either side was explained: standard deviations, code values. */
  behindError: Float32Array;
  objectError: Float32Array;
  /** Mean cost of the picture right beside the edge. */
  misfit: Float32Array;
  /** px to either side that were looked at. */
  reach: number;
  /** 1 where the place is in the picture. */
  seen: Uint8Array;
  /** How soft the edge is taken to be, and px a frame across it that go with it. */
  softness: EdgeSoftness;
  speed: number;
}

/** A frame that shows what lies behind, how many frames away it is, and the way there. */
interface Behind extends Passage {
  picture: FramePicture;
  frames: number;
}

/** Follows one run of a line from frame to frame, in one direction. */
export class RunFollower {
  private objectMap: Affine = identity;
  /** px a frame, of what lies behind. */
  private behindWay: (Passage & { frame: number; frames: number }) | null = null;
  private softness: EdgeSoftness = { sigma: 0.8, shutter: 0 };
  private memory: ObjectMemory | null = null;
  private shade: Float32Array | null = null;
  private inner!: SideColours;
  private outer!: SideColours;
  /** px between samples. */
  private grain = 1;
  /** px a frame of time across the line, against what lies behind. */
  private speed: Float64Array = new Float64Array(0);
  private own: Float64Array = new Float64Array(0);
  /** Places at which the line runs through the object. */
  private attached: Uint8Array = new Uint8Array(0);

  constructor(
    private readonly frames: Frames,
    private readonly direction: 1 | -1,
    private readonly settings: FollowSettings,
  ) {}

  /** A frame as it is followed in: without the noise that hides how well things fit. */
  private async picture(frame: number): Promise<FramePicture> {
    return (await this.frames.picture(frame)).calm;
  }

  /** Learns the run where it is known; how soft it is only where it is known exactly. */
  async learn(frame: number, line: EdgeLine, exactly = true): Promise<void> {
    const next = frame + this.direction;
    const here = await this.picture(frame);
    this.own = new Float64Array(line.count);
    this.attached = new Uint8Array(line.count);
    if (next >= 0 && next < this.frames.count) {
      const there = await this.picture(next);
      const wide = { acrossPx: 0.09 * here.width, downPx: 0.03 * here.width, trust: 4 };
      this.objectMap = bandMotion(here, there, bandBeside(line, -46, 2), identity, wide)?.map ?? identity;
      const behind = behindMotion(here, there, line, 2, identity, [40, 24], this.objectShift(line, 1));
      this.behindWay = {
        frame: -1,
        frames: this.direction,
        map: behind?.map ?? identity,
        ...still(line.count),
      };
    }
    this.speed = this.speedOf(line);
    const behind = await this.behind(frame, line);
    if (exactly) {
      const wide = straightPicture(here, line, -40, 1, 81, null);
      const wideBehind = behind && straightPicture(behind.picture, line, -40, 1, 81, behind);
      this.softness = fittedSoftness(
        wide,
        wideBehind && this.uncovered(wideBehind, behind.frames),
        this.speed,
      );
    }
    const soft = softReach(this.softness, median(this.speed));
    this.grain = Math.max(1, soft / 9);
    if (exactly) this.attached = await this.attachedAt(frame, here, line, soft);
    this.remember(here, line, behind, 1);
  }

  /** Places at which the line runs through the object: told from the frame in which it covers less of what lies outside. */
  private async attachedAt(
    frame: number,
    here: FramePicture,
    line: EdgeLine,
    soft: number,
  ): Promise<Uint8Array> {
    const way = median(this.speed) > 0 ? -1 : 1;
    const other = frame + way;
    if (!this.behindWay || other < 0 || other >= this.frames.count) return new Uint8Array(line.count);
    const object = way === this.direction ? this.objectMap : invert(this.objectMap);
    const behind = { map: this.scaled(way), ...still(line.count) };
    return attachedPlaces(here, await this.picture(other), line, soft, object, behind);
  }

  /** Looks for the edge about a line that is `off` px from it at most, with nothing remembered of the object. */
  async lookAfresh(frame: number, line: EdgeLine, off: number, near: boolean): Promise<RunSight> {
    await this.learn(frame, line, near);
    this.memory = null;
    this.shade = null;
    // A line that is off may lie in the object by mistake.
    this.attached = new Uint8Array(line.count);
    const here = await this.picture(frame);
    const soft = softReach(this.softness, median(this.speed));
    const beside = straightPicture(
      here,
      line,
      -soft - off - 20,
      1,
      Math.round(2 * (soft + off + 20)) + 1,
      null,
    );
    this.inner = sideColours(beside, -soft - off - 14, -soft - off, 6);
    this.outer = sideColours(beside, soft + off, soft + off + 14, 6);
    return this.look(
      frame,
      line,
      Float64Array.from({ length: line.count }, (_, i) => i),
    );
  }

  /** How the run is expected to move to the next frame: its object's similarity, and its places' own way across. */
  async expectation(frame: number, line: EdgeLine): Promise<{ map: Affine; own: Float64Array }> {
    const here = await this.picture(frame);
    const there = await this.picture(frame + this.direction);
    const soft = softReach(this.softness, median(this.speed));
    const middle = line.count >> 1;
    const guess = calmed(this.objectMap, line.x[middle], line.y[middle]);
    const found = bandMotion(here, there, bandBeside(line, -42 - soft, 1.5), guess, {
      acrossPx: 24,
      downPx: 16,
      trust: 5,
      expected: true,
    });
    const likely =
      found !== null && found.explained > 0.3 && Math.abs(found.map[0] - 1) + Math.abs(found.map[1]) < 0.04;
    this.objectMap = likely ? found.map : guess;
    return { map: this.objectMap, own: this.own.map((value) => value * this.settings.ownKept) };
  }

  /** Looks for the edge at `frame` about `line`, which came from the one before by `cameFrom`. */
  async look(frame: number, line: EdgeLine, cameFrom: Float64Array): Promise<RunSight> {
    this.shift(cameFrom);
    const here = await this.picture(frame);
    const { grain, settings } = this;
    const reach = settings.reach * grain;
    const edge = reach + settings.beyond * grain;
    const across = 2 * Math.round(edge / grain) + 1;
    const picture = straightPicture(here, line, -edge, grain, across, null);
    let sight: RunSight | null = null;
    for (let round = 0; round < 2; round++) {
      const behind = await this.behind(frame, line);
      const bare =
        behind &&
        this.uncovered(straightPicture(behind.picture, line, -edge, grain, across, behind), behind.frames);
      const around: Surroundings = {
        picture,
        behind: bare,
        shade: this.shade,
        object: this.memory,
        inner: this.inner,
        outer: this.outer,
        speed: this.speed,
        softness: this.softness,
        noise: settings.noise,
      };
      const layers = new LayerCosts(around, reach);
      // First by whole samples all over the reach, then by halves about what was found.
      const half = Math.round(reach / grain);
      const about = this.coarse(layers, half, line.count);
      const centre = evenOffsets(about, 0.8 * grain);
      for (let i = 0; i < line.count; i++)
        centre[i] = (Math.round((2 * Math.max(-reach, Math.min(reach, centre[i]))) / grain) * grain) / 2;
      const near = 6;
      const fine = layers.at(centre, near, 1);
      pullAttached(fine, this.attached, near, grain / 2, centre);
      const belief = chainBelief(fine, line.count, 2 * near + 1, grain / 2, settings, centre);
      for (let i = 0; i < line.count; i++) belief.doubt[i] = Math.max(belief.doubt[i], about.doubt[i]);
      sight = {
        belief,
        behindError: layers.behindError,
        objectError: layers.objectError,
        misfit: layers.misfit(belief.mean),
        reach,
        softness: this.softness,
        speed: median(this.speed),
        seen: Uint8Array.from(line.x, (x, i) =>
          x > 1 && line.y[i] > 1 && x < here.width - 1 && line.y[i] < here.height - 1 ? 1 : 0,
        ),
      };
      // A place that moves otherwise than was thought uncovers otherwise, too: then it is looked at again.
      if (round > 0 || belief.mean.every((mean) => Math.abs(mean) < 2.5 * grain)) break;
      const faster = evened(belief.mean, 2);
      this.speed = this.speed.map((speed, i) => speed + this.direction * faster[i]);
    }
    return sight!;
  }

  /** The belief over the whole reach, by whole samples, with a slight pull to what was expected. */
  private coarse(layers: LayerCosts, half: number, count: number): ChainBelief {
    const costs = layers.at(null, half, 2);
    for (let i = 0; i < count; i++)
      for (let k = -half; k <= half; k++)
        costs[i * (2 * half + 1) + k + half] += 0.5 * Math.min((k / (0.6 * half)) ** 2, 4);
    pullAttached(costs, this.attached, half, this.grain, null);
    return chainBelief(costs, count, 2 * half + 1, this.grain, this.settings);
  }

  /** Takes over what was found: the line as it lies now, and how far off the expectation that was. */
  async accept(frame: number, line: EdgeLine, offsets: Float64Array): Promise<void> {
    const here = await this.picture(frame);
    const kept = this.settings.ownKept;
    const most = this.settings.reach * this.grain;
    const own = this.own.map((value, i) => Math.max(-most, Math.min(most, value * kept + offsets[i])));
    this.own = evened(own, 2);
    this.speed = this.speedOf(line);
    this.remember(here, line, await this.behind(frame, line), this.settings.renewal);
  }

  /** Arrays by place follow the places. */
  private shift(cameFrom: Float64Array): void {
    const pick = (values: Float64Array) =>
      Float64Array.from(cameFrom, (at) => values[Math.min(values.length - 1, Math.round(at))]);
    this.own = pick(this.own);
    this.speed = pick(this.speed);
    const attached = this.attached;
    this.attached = Uint8Array.from(
      cameFrom,
      (at) => attached[Math.min(attached.length - 1, Math.round(at))],
    );
    if (!this.memory) return;
    const { depths, count } = this.memory;
    const moved = (values: Float32Array) => {
      const next = new Float32Array(cameFrom.length * depths);
      for (let i = 0; i < cameFrom.length; i++) {
        const at = Math.min(count - 1, Math.max(0, cameFrom[i]));
        const a = Math.floor(at);
        const b = Math.min(count - 1, a + 1);
        const share = at - a;
        for (let k = 0; k < depths; k++)
          next[i * depths + k] = values[a * depths + k] * (1 - share) + values[b * depths + k] * share;
      }
      return next;
    };
    const { y, u, v, weight, step } = this.memory;
    this.memory = {
      count: cameFrom.length,
      depths,
      step,
      y: moved(y),
      u: moved(u),
      v: moved(v),
      weight: moved(weight),
    };
  }

  private speedOf(line: EdgeLine): Float64Array {
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
    return evened(speed, 4);
  }

  /** A frame in which the edge has gone from the strip, and the way there of what lies behind. */
  private async behind(frame: number, line: EdgeLine): Promise<Behind | null> {
    const { reach, beyond, farthest } = this.settings;
    const soft = softReach(this.softness, median(this.speed));
    const speeds = Float64Array.from(this.speed).sort();
    const trailing = speeds[speeds.length >> 1] < 0;
    // The slower quarter decides.
    const slow = trailing
      ? speeds[Math.floor(0.75 * speeds.length)]
      : speeds[Math.floor(0.25 * speeds.length)];
    const need = reach * this.grain + 0.3 * beyond * this.grain + 2 * soft + 2;
    let far = Math.min(farthest, Math.ceil(need / Math.max(0.3, Math.abs(slow))));
    // A trailing edge lays bare later, a leading one has done so before.
    let way = trailing ? 1 : -1;
    const room = (way: number) => (way > 0 ? this.frames.count - 1 - frame : frame);
    // At the shot's end only what is outside already can be seen elsewhere.
    if (room(way) < 1) [way, far] = [-way, 1];
    // As many frames away as before do as well, if the edge has gone from the strip there, too: their way is known.
    const asked = this.behindWay;
    const before = asked ? way * asked.frames : 0;
    if (before >= 0.85 * far && before <= 1.5 * far + 2) far = before;
    far = Math.min(far, room(way));
    if (far < 1) return null;
    const there = await this.picture(frame + way * far);
    if (asked && asked.frame === frame && asked.frames === way * far && asked.dx.length === line.count)
      return { picture: there, ...asked };
    const here = await this.picture(frame);
    const guess = this.scaled(way * far);
    const known = this.behindWay !== null && this.behindWay.frames === way * far;
    const search: [number, number] = known ? [10, 8] : [10 + 3 * far, 8 + 1.5 * far];
    const along = this.objectShift(line, way * far * this.direction);
    const found = behindMotion(here, there, line, soft, guess, search, along);
    if (!found) return null;
    const shifts = localShifts(here, there, line, soft, found, along);
    this.behindWay = { frame, frames: way * far, map: found.map, ...shifts };
    return { picture: there, ...this.behindWay };
  }

  /** How far the object takes the line's middle in so many steps, px. */
  private objectShift(line: EdgeLine, steps: number): [number, number] {
    const middle = line.count >> 1;
    const [x, y] = applyAffine(this.objectMap, line.x[middle], line.y[middle]);
    return [(x - line.x[middle]) * steps, (y - line.y[middle]) * steps];
  }

  /** What is known of the way of what lies behind, over so many frames. */
  private scaled(frames: number): Affine {
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
  private uncovered(bare: StraightPicture, frames: number): StraightPicture {
    for (let i = 0; i < bare.count; i++) {
      const soft = softReach(this.softness, this.speed[i]);
      // Where the edge is there; how far it goes is not known exactly.
      const gone = this.speed[i] * frames;
      const edge = gone * (gone < 0 ? 0.9 : 1.1) + soft + 2;
      for (let m = 0; m < bare.across; m++) {
        const far = bare.from + m * bare.step;
        if (far < edge) bare.y[i * bare.across + m] = NaN;
      }
    }
    return bare;
  }

  private remember(here: FramePicture, line: EdgeLine, behind: Behind | null, renewal: number): void {
    const { grain, settings } = this;
    const deep = (2 * settings.reach + settings.beyond) * grain;
    const step = grain / 2;
    const depths = Math.round(deep / step) + 1;
    // From deep inside to the edge, so that sample m is depth (depths − 1 − m).
    const inside = straightPicture(here, line, -deep, step, depths, null);
    const soft = softReach(this.softness, median(this.speed));
    const deepest = this.speed.map((speed) => softReach(this.softness, speed) + this.softness.sigma);
    // What lies behind counts only where it shows through.
    const mixed = Math.min(depths, Math.ceil(Math.max(...deepest) / step) + 1);
    const bare =
      behind &&
      this.uncovered(
        straightPicture(behind.picture, line, (1 - mixed) * step, step, mixed, behind),
        behind.frames,
      );
    const outward = Math.round(Math.max(soft / grain + 16, settings.reach + settings.beyond)) + 1;
    const outside = straightPicture(here, line, 0, grain, outward, null);
    if (behind)
      this.shade = shadeOf(
        outside,
        this.uncovered(straightPicture(behind.picture, line, 0, grain, outward, behind), behind.frames),
        this.shade,
        Math.ceil((soft + 1.5) / grain),
      );
    if (bare && this.shade) darken(bare, this.shade);
    this.outer = sideColours(outside, soft + grain, soft + 14 * grain, 6);
    this.inner = sideColours(inside, -soft - 14 * grain, -soft - grain, 6);
    const old = this.memory?.depths === depths ? this.memory : null;
    const size = line.count * depths;
    const memory: ObjectMemory = {
      count: line.count,
      depths,
      step,
      y: new Float32Array(size),
      u: new Float32Array(size),
      v: new Float32Array(size),
      weight: new Float32Array(size),
    };
    const shared = new Map<number, Float32Array>();
    for (let i = 0; i < line.count; i++) {
      const c = 3 * i;
      const pace = Math.round(8 * this.speed[i]);
      const shares =
        shared.get(pace) ??
        Float32Array.from({ length: mixed }, (_, k) => objectShare(this.softness, pace / 8, -k * step));
      shared.set(pace, shares);
      for (let k = 0; k < depths; k++) {
        const s = i * depths + (depths - 1 - k);
        const o = i * depths + k;
        const share = k * step > deepest[i] ? 1 : shares[k];
        let [y, u, v] = [inside.y[s], inside.u[s], inside.v[s]];
        let weight = 1;
        if (y !== y) weight = 0;
        else if (share < 0.98) {
          const b = i * mixed + (mixed - 1 - k);
          const known = bare !== null && bare.y[b] === bare.y[b];
          const [by, bu, bv] = known
            ? [bare.y[b], bare.u[b], bare.v[b]]
            : [this.outer.mean[c], this.outer.mean[c + 1], this.outer.mean[c + 2]];
          y = Math.min(255, Math.max(0, (y - (1 - share) * by) / share));
          u = Math.min(255, Math.max(0, (u - (1 - share) * bu) / share));
          v = Math.min(255, Math.max(0, (v - (1 - share) * bv) / share));
          weight = share * share;
        }
        const before = old?.weight[o] ?? 0;
        if (weight > 0) {
          const take = before > 0 ? renewal * weight : 1;
          memory.y[o] = take * y + (old ? (1 - take) * old.y[o] : 0);
          memory.u[o] = take * u + (old ? (1 - take) * old.u[o] : 0);
          memory.v[o] = take * v + (old ? (1 - take) * old.v[o] : 0);
        } else if (old) {
          memory.y[o] = old.y[o];
          memory.u[o] = old.u[o];
          memory.v[o] = old.v[o];
        }
        memory.weight[o] = Math.max(before, weight);
      }
    }
    this.memory = memory;
  }
}

/** A movement that may be expected to go on: about (x, y) its shift, and less and less of its turn and growth. */
function calmed(map: Affine, x: number, y: number): Affine {
  const [tx, ty] = applyAffine(map, x, y);
  const kept = 0.8;
  const [a, b, c, d] = [1 + (map[0] - 1) * kept, map[1] * kept, map[2] * kept, 1 + (map[3] - 1) * kept];
  return [a, b, c, d, tx - a * x - c * y, ty - b * x - d * y];
}
