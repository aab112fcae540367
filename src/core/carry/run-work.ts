import { type EdgeLine, straightPicture, type StraightPicture } from '../edge/straight';
import type { FramePicture } from '../picture/frame-picture';
import { type Affine, identity, invert } from '../geometry/affine';
import { softReach } from '../edge/softness-profile';
import { type ObjectMemory, type Surroundings, LayerCosts } from '../edge/layer-costs';
import { type SideColours, sideColours } from '../edge/side-colours';
import type { RunContext, RunState, RunSight } from './run-state';
import { bandMotion } from './band-motion';
import { bandBeside } from './band';
import { behindMotion, still, unlike } from './behind-way';
import { fittedSoftness } from './fitted-softness';
import { median } from '../numbers/quantile';
import { attachedPlaces, pullAttached } from './attached';
import { evenOffsets, chainBelief, type ChainBelief } from '../edge/chain';
import { movingMean } from '../numbers/moving-mean';
import { shadeOf, darken } from './shade';
import { memoryFrom, renewedMemory } from './object-memory';
import { type Behind, RunView } from './run-view';
import { acrossOf, shiftedAcross, turnedLess } from './across';
import { cameWithTexture, shownElsewhere, textureMotion } from './texture';
import { leapsOf, mayLeap, misfitWithin, ObjectColours } from './leaps';
import {
  coloursBeside,
  forgottenWhereLeapt,
  nearestStaying,
  renewedWhereLeapt,
  unshadedWhereLeapt,
} from './leapt-places';

/** How a line came from another frame. */
export interface CameFrom {
  /** px from frame to frame of following across it, and over how many frames. */
  by: number;
  frames: number;
  /** Whether it was known there, and not only found. */
  known: boolean;
}

/** A state that is being worked on; what a state holds is never changed, only replaced. */
export class RunWork extends RunView {
  /** px across from the line looked about at which the edge would lie had it gone along with `texture`. */
  private came: Float64Array | null = null;
  private memory: ObjectMemory | null = null;
  private shade: Float32Array | null = null;
  private inner: SideColours | null = null;
  private outer: SideColours | null = null;
  /** The movement of the object's texture from the frame before, where it does not go along with the edge; null where it does. */
  private texture: Affine | null = null;
  /** px a frame of following across the line, of all of it together; null where nothing is known of it. */
  private went: number | null = null;
  /** Places at which the line runs through the object. */
  private attached: Uint8Array = new Uint8Array(0);

  constructor(context: RunContext, state: RunState | null) {
    super(context);
    if (state) Object.assign(this, state);
  }

  state(): RunState {
    const { objectMap, texture, behindWay, softness, memory, shade, inner, outer, grain } = this;
    const { went, speed, own, attached } = this;
    return {
      objectMap,
      texture,
      behindWay,
      softness,
      memory,
      shade,
      inner,
      outer,
      grain,
      went,
      speed,
      own,
      attached,
    };
  }

  /** Learns the run where it is known; how soft it is only where it is known exactly. */
  async learn(frame: number, line: EdgeLine, exactly: boolean, came: CameFrom | null = null): Promise<void> {
    this.went = came?.by ?? null;
    const { bandDepth, acrossShare, downShare, trust, behindSearch, ...learning } = this.settings.learning;
    const next = frame + this.direction;
    const here = await this.picture(frame);
    this.own = new Float64Array(line.count);
    this.attached = new Uint8Array(line.count);
    if (next >= 0 && next < this.frames.count) {
      const there = await this.picture(next);
      const expected = this.went !== null;
      const guess = expected ? shiftedAcross(line, this.went!) : identity;
      const wide = { acrossPx: acrossShare * here.width, downPx: downShare * here.width, trust, expected };
      const found = bandMotion(here, there, bandBeside(line, -bandDepth, 2), guess, wide);
      const { wellExplained } = this.settings.expecting;
      this.objectMap = found && (!expected || found.explained > wellExplained) ? found.map : guess;
      await this.breathe();
      const [, , , , dx, dy] = shiftedAcross(line, this.went ?? 0);
      const along = expected ? ([dx, dy] as const) : this.objectShift(line, 1);
      const behind = behindMotion(here, there, line, 2, identity, behindSearch, along);
      this.behindWay = {
        frame: -1,
        frames: this.direction,
        map: behind?.map ?? identity,
        ...still(line.count),
      };
      if (came) this.heedCame(line, came);
      await this.breathe();
    }
    this.speed = this.speedOf(line);
    const behind = await this.behind(frame, line);
    if (exactly) {
      const reach = learning.softnessReach;
      const wide = straightPicture(here, line, {
        from: -reach,
        step: 1,
        across: 2 * reach + 1,
        passage: null,
      });
      const wideBehind =
        behind &&
        straightPicture(behind.picture, line, {
          from: -reach,
          step: 1,
          across: 2 * reach + 1,
          passage: behind,
        });
      this.softness = fittedSoftness(
        wide,
        wideBehind && this.uncovered(wideBehind, behind.frames),
        this.speed,
      );
      await this.breathe();
    }
    const soft = softReach(this.softness, median(this.speed));
    this.grain = Math.max(1, soft / learning.samplesPerSoftness);
    if (exactly) this.attached = await this.attachedAt(frame, here, line, soft);
    this.remember(here, line, behind, 1);
  }

  /** Weighs how the line came from another frame against what this frame and the next one show. */
  private heedCame(line: EdgeLine, { by, frames, known }: CameFrom): void {
    const { apart, farthest } = this.settings.texture;
    const rests = acrossOf(this.behindWay!.map, line);
    const shown = acrossOf(this.objectMap, line);
    const still = Math.abs(shown - rests) < apart && Math.abs(by - rests) >= apart;
    const most = Math.max(apart, this.settings.pace.apart * Math.abs(by));
    const otherwise = known && frames <= farthest && Math.abs(shown - by) >= most;
    // A texture that rests with what lies behind, or goes another way than the edge just went, says nothing of where that goes.
    if (still || otherwise) this.objectMap = shiftedAcross(line, by);
    else if (frames > farthest) this.went = null;
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
    return attachedPlaces(here, await this.picture(other), line, { soft, object, behind });
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
    const { afreshBeyond, sideDepth, sideRows } = this.settings.looking;
    const beside = straightPicture(here, line, {
      from: -soft - off - afreshBeyond,
      step: 1,
      across: Math.round(2 * (soft + off + afreshBeyond)) + 1,
      passage: null,
    });
    this.inner = sideColours(beside, -soft - off - sideDepth, -soft - off, sideRows);
    this.outer = sideColours(beside, soft + off, soft + off + sideDepth, sideRows);
    return this.look(frame, line);
  }

  /** How the run is expected to move to the next frame: its object's similarity, and its places' own way across. */
  async expectation(frame: number, line: EdgeLine): Promise<{ map: Affine; own: Float64Array }> {
    const here = await this.picture(frame);
    const there = await this.picture(frame + this.direction);
    const soft = softReach(this.softness, median(this.speed));
    const middle = line.count >> 1;
    const { bandDepth, bandFrom, acrossPx, downPx, trust, explains, mostTurn, wellExplained } =
      this.settings.expecting;
    const likeBefore = turnedLess(this.objectMap, line.x[middle], line.y[middle], this.settings.turnKept);
    const band = bandBeside(line, -bandDepth - soft, bandFrom);
    const found = bandMotion(here, there, band, likeBefore, { acrossPx, downPx, trust, expected: true });
    // Samples that leave the picture count as unexplained: another movement has to fit better where both pictures show the band.
    const better =
      found !== null &&
      (found.explained > wellExplained ||
        unlike(here, there, band, found) < unlike(here, there, band, { ...found, map: likeBefore }));
    const likely =
      better && found.explained > explains && Math.abs(found.map[0] - 1) + Math.abs(found.map[1]) < mostTurn;
    this.objectMap = likely ? found.map : likeBefore;
    // The band along the edge may have followed the texture instead.
    const edgeMap = this.went === null ? this.objectMap : shiftedAcross(line, this.went);
    const guess = this.texture ?? this.scaled(this.direction);
    this.texture = textureMotion(here, there, line, { edgeMap, guess, soft }, this.settings);
    if (this.texture && this.went !== null) {
      // The texture says nothing about where its edge goes: the edge goes on as it went.
      const common = median(this.own);
      this.own = this.own.map((value) => value - common);
      this.objectMap = edgeMap;
    } else if (this.texture && !(found && found.explained > wellExplained)) this.objectMap = this.texture;
    return { map: this.objectMap, own: this.own.map((value) => value * this.settings.ownKept) };
  }

  /** Looks for the edge at `frame` about `line`, which came from the one before by `cameFrom`, or where it leapt from there. */
  async lookWide(frame: number, line: EdgeLine, cameFrom: Float64Array): Promise<RunSight> {
    this.shift(cameFrom);
    const own = this.own.map((value) => value * this.settings.ownKept);
    this.came = this.texture && cameWithTexture(line, this.texture, { objectMap: this.objectMap, own });
    const before = this.state();
    const sight = await this.look(frame, line);
    const leaps = await this.leaps(frame, line, sight);
    if (!leaps) return sight;
    Object.assign(this, before);
    const there = {
      ...line,
      x: line.x.map((x, i) => x + leaps[i] * line.nx[i]),
      y: line.y.map((y, i) => y + leaps[i] * line.ny[i]),
    };
    await this.learnWhereLeapt(frame, there, leaps);
    this.came = this.came && this.came.map((at, i) => at - leaps[i]);
    return { ...(await this.look(frame, there)), leaps };
  }

  /** Where places leapt to on this frame, px across; null where none did. */
  private async leaps(frame: number, line: EdgeLine, sight: RunSight): Promise<Float64Array | null> {
    // A loop's sides have little room.
    const { leaping } = this.settings;
    if (Math.min(...line.room) < Infinity) return null;
    const here = await this.picture(frame);
    const inPicture = (i: number) =>
      [-sight.reach, sight.reach].every((by) => {
        const [x, y] = [line.x[i] + by * line.nx[i], line.y[i] + by * line.ny[i]];
        return x > 0 && y > 0 && x < here.width && y < here.height;
      });
    const misfit = misfitWithin(sight, leaping, inPicture);
    if (!mayLeap(sight, misfit, leaping)) return null;
    const reach = Math.round((leaping.reachShare * here.width) / leaping.step) * leaping.step;
    const strip = { from: -reach, step: leaping.step, across: (2 * reach) / leaping.step + 1 };
    const behind = await this.shownBehind(frame, line, reach);
    if (behind.length === 0) return null;
    const { memory, outer } = this;
    if (!memory || !outer) return null;
    const kept = this.direction * this.settings.ownKept;
    const pace = median(this.speed.map((speed, i) => speed - kept * this.own[i]));
    // A limb's own way says nothing of where the object is in another frame.
    const usual = new Float64Array(line.count).fill(median(this.speed));
    const picture = straightPicture(here, line, { ...strip, passage: null });
    const leaps = leapsOf(
      picture,
      behind.map((each) =>
        this.uncovered(straightPicture(each.picture, line, { ...strip, passage: each }), each.frames, usual),
      ),
      ObjectColours.remembered(memory),
      {
        ...leaping,
        // Over a texture that doesn't go along with it an edge may be anywhere, and so may one that went farther than was looked.
        wholly:
          Math.abs(pace) < leaping.stillBelow || median(sight.belief.mean.map(Math.abs)) > 0.9 * sight.reach,
        ...{ staying: sight.belief.mean, misfit, reach: sight.reach },
        soft: softReach(this.softness, median(this.speed)),
        blurred: softReach(this.softness, 0),
        outer,
        height: line.x.map((x, i) => x * line.nx[i] + line.y[i] * line.ny[i]),
      },
    );
    return leaps.some((by) => by !== 0) ? leaps : null;
  }

  /**
   * Places that went farther than was thought are faster; what is remembered of those that went too far for that is of something
   * else: there it is what this frame shows, and they are as fast as the nearest of the same piece.
   */
  private async learnWhereLeapt(frame: number, line: EdgeLine, leaps: Float64Array): Promise<void> {
    const { elsewhere } = this.settings.leaping;
    const near = nearestStaying(line, leaps, elsewhere);
    const went = Float64Array.from(near, (from) => (from < 0 ? 0 : leaps[from]));
    const own = this.own;
    this.speed = this.speed.map((speed, i) => {
      const slower = near[i] === i ? 0 : (near[i] < 0 ? 0 : own[near[i]]) - own[i];
      return speed + this.direction * (went[i] + slower * this.settings.ownKept);
    });
    this.own = own.map((value, i) => (near[i] === i ? value : near[i] < 0 ? 0 : own[near[i]]));
    if (this.shade) this.shade = unshadedWhereLeapt(this.shade, leaps);
    if (near.every((from, i) => from === i)) return;
    const soft = softReach(this.softness, median(this.speed));
    const depth = this.settings.looking.sideDepth * this.grain;
    const seen = coloursBeside(await this.picture(frame), line, soft, depth);
    this.inner = renewedWhereLeapt(this.inner, seen.inner, near);
    this.outer = renewedWhereLeapt(this.outer, seen.outer, near);
    if (this.memory) this.memory = forgottenWhereLeapt(this.memory, near);
  }

  /**
   * The object's texture where it does not go along with its edge, from the frame in which it covers more: that before, or that
   * ahead where it goes outward; null where it goes along.
   */
  private async shownWithin(
    frame: number,
    line: EdgeLine,
    strip: { from: number; step: number; across: number },
  ): Promise<StraightPicture | null> {
    const { came, texture } = this;
    if (!came || !texture) return null;
    const soft = softReach(this.softness, median(this.speed));
    const ahead = frame + this.direction;
    if (median(came) < 0 && ahead >= 0 && ahead < this.frames.count) {
      // It is expected to go on as it came; how far is not known exactly.
      const edge = came.map((at) => -at * this.settings.behind.paceLow);
      return shownElsewhere(await this.picture(ahead), line, strip, { way: texture, edge, soft });
    }
    const before = await this.picture(frame - this.direction);
    return shownElsewhere(before, line, strip, { way: invert(texture), edge: came, soft });
  }

  /** Looks for the edge at `frame` about `line`. */
  private async look(frame: number, line: EdgeLine): Promise<RunSight> {
    const here = await this.picture(frame);
    const { grain, settings } = this;
    const reach = settings.reach * grain;
    const edge = reach + settings.beyond * grain;
    const across = 2 * Math.round(edge / grain) + 1;
    const picture = straightPicture(here, line, { from: -edge, step: grain, across, passage: null });
    const within = await this.shownWithin(frame, line, { from: -edge, step: grain, across });
    let sight: RunSight | null = null;
    const { rounds, lookAgainFrom, fineReach: near, evenness } = settings.looking;
    for (let round = 0; round < rounds; round++) {
      const behind = await this.behind(frame, line);
      const bare =
        behind &&
        this.uncovered(
          straightPicture(behind.picture, line, { from: -edge, step: grain, across, passage: behind }),
          behind.frames,
        );
      const around: Surroundings = {
        picture,
        behind: bare,
        shade: this.shade,
        object: this.memory,
        within,
        inner: this.inner!,
        outer: this.outer!,
        speed: this.speed,
        softness: this.softness,
        noise: settings.noise,
      };
      const layers = new LayerCosts(around, reach);
      await this.breathe();
      // First by whole samples all over the reach, then by halves about what was found.
      const half = Math.round(reach / grain);
      const about = this.coarse(layers, half, line.count);
      await this.breathe();
      const centre = evenOffsets(about, evenness * grain);
      for (let i = 0; i < line.count; i++)
        centre[i] = (Math.round((2 * Math.max(-reach, Math.min(reach, centre[i]))) / grain) * grain) / 2;
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
      if (belief.mean.every((mean) => Math.abs(mean) < lookAgainFrom * grain)) break;
      if (round + 1 === rounds) break;
      const faster = movingMean(belief.mean, 2);
      this.speed = this.speed.map((speed, i) => speed + this.direction * faster[i]);
    }
    return sight!;
  }

  /** The belief over the whole reach, by whole samples, with a slight pull to what was expected. */
  private coarse(layers: LayerCosts, half: number, count: number): ChainBelief {
    const { pull, pullAt, mostPull } = this.settings.looking;
    const costs = layers.at(null, half, 2);
    for (let i = 0; i < count; i++)
      for (let k = -half; k <= half; k++)
        costs[i * (2 * half + 1) + k + half] += pull * Math.min((k / (pullAt * half)) ** 2, mostPull);
    pullAttached(costs, this.attached, half, this.grain, null);
    return chainBelief(costs, count, 2 * half + 1, this.grain, this.settings);
  }

  /** Takes over what was found: the line as it lies now, and how far off the expectation that was. */
  async accept(frame: number, line: EdgeLine, offsets: Float64Array): Promise<void> {
    const here = await this.picture(frame);
    const kept = this.settings.ownKept;
    const most = Math.max(
      this.settings.reach * this.grain,
      this.settings.leaping.elsewhere + Math.abs(median(offsets)),
    );
    const { elsewhere } = this.settings.leaping;
    const near = nearestStaying(line, offsets, elsewhere);
    const moved = (i: number) => Math.max(-most, Math.min(most, this.own[i] * kept + offsets[i]));
    const own = this.own.map((_, i) => (near[i] < 0 ? 0 : moved(near[i])));
    this.own = movingMean(own, 2);
    this.went = acrossOf(this.objectMap, line) + median(this.own);
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
    if (this.memory) this.memory = memoryFrom(this.memory, cameFrom);
  }

  private remember(here: FramePicture, line: EdgeLine, behind: Behind | null, renewal: number): void {
    const { grain, settings } = this;
    const { shadeReach, shadeFrom } = settings.remembering;
    const { sideDepth, sideRows } = settings.looking;
    const deep = (2 * settings.reach + settings.beyond) * grain;
    const step = grain / 2;
    const depths = Math.round(deep / step) + 1;
    // From deep inside to the edge, so that sample m is depth (depths − 1 − m).
    const inside = straightPicture(here, line, { from: -deep, step, across: depths, passage: null });
    const soft = softReach(this.softness, median(this.speed));
    const deepest = this.speed.map((speed) => softReach(this.softness, speed) + this.softness.sigma);
    // What lies behind counts only where it shows through.
    const mixed = Math.min(depths, Math.ceil(Math.max(...deepest) / step) + 1);
    const bare =
      behind &&
      this.uncovered(
        straightPicture(behind.picture, line, {
          from: (1 - mixed) * step,
          step,
          across: mixed,
          passage: behind,
        }),
        behind.frames,
      );
    const outward = Math.round(Math.max(soft / grain + shadeReach, settings.reach + settings.beyond)) + 1;
    const outside = straightPicture(here, line, { from: 0, step: grain, across: outward, passage: null });
    if (behind)
      this.shade = shadeOf(
        outside,
        this.uncovered(
          straightPicture(behind.picture, line, { from: 0, step: grain, across: outward, passage: behind }),
          behind.frames,
        ),
        this.shade,
        this.speed.map((speed) =>
          Math.ceil((Math.max(soft, softReach(this.softness, speed)) + shadeFrom) / grain),
        ),
      );
    if (bare && this.shade) darken(bare, this.shade);
    this.outer = sideColours(outside, soft + grain, soft + sideDepth * grain, sideRows);
    this.inner = sideColours(inside, -soft - sideDepth * grain, -soft - grain, sideRows);
    const old = this.memory?.depths === depths ? this.memory : null;
    this.memory = renewedMemory({
      ...{ line, inside, bare, depths, mixed, step, deepest, old, renewal },
      ...{ speed: this.speed, softness: this.softness, outer: this.outer },
      settings: settings.remembering,
    });
  }
}
