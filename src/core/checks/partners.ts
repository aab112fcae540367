import { stopLevel } from '../colour/grade';
import { lookAt } from '../colour/looks';
import { layerMotion } from '../compose/layer-motion';
import { shownSourceFrame } from '../compose/source-frames';
import { documentOf, playedRange } from '../document/document';
import {
  type CrossingDocument,
  type CrossingRow,
  type LayerRow,
  plainCrossing,
  plainLayer,
} from '../document/tables';
import { layOut } from '../document/plans';
import type { Plan } from '../model/choices';
import type { Shot } from '../model/shot';
import { rateOf } from '../time/rate';
import { offsetAt } from '../time/time-map';
import { angleBetween, edgeRange, limits, type Side } from './belonging';

/** A shot that could be taken in a layer's place, and how well it would sit there. */
export interface Partner {
  shot: Shot;
  /** The less, the better: 1 is as far off as one thing may be before it is remarked on. */
  cost: number;
  /** What speaks for and against it, in a few words. */
  says: string;
  /** The layer's settings with which it fits best. */
  settings: Partial<LayerRow>;
}

const { speed, reverse, holdFrom, ramp, rampAt, rampRound, trimIn, trimOut } = plainLayer;
/** The time of a layer that nobody has changed, whatever its slip: whole, and at its own speed. */
export const ownTime = { speed, reverse, holdFrom, ramp, rampAt, rampRound, trimIn, trimOut };

/** Most places in a shot at which it is tried. */
const mostPlaces = 24;
/** What it costs when one shot moves and the other stands still, when it ends too early, and to mirror it (taste). */
const [oneStill, tooShort, mirroring] = [3, 4, 1];

/**
 * All measured shots by how well they would sit in a layer's place: moving the same way and as fast as the other shot between
 * the opening and the closing frame, steady, alike in light and colour, and long enough; each at the slip at which it fits best.
 *
 * @param other the layer that stays, with its measured shot.
 * @param place the layer whose shot is chosen; its place in the picture counts, its time is taken anew.
 * @returns the best first; none while the other shot is not measured.
 */
export function rankPartners(
  document: CrossingDocument,
  other: Pick<Side, 'layer' | 'shot'>,
  place: LayerRow,
  candidates: readonly Shot[],
): Partner[] {
  const [from, to] = edgeRange(document);
  const moves = layerMotion(document, other.layer, other.shot, from, to);
  if (!moves) return [];
  const shown = shownSourceFrame(document, other.layer, other.shot, from) ?? 0;
  const theirs: Theirs = { ...moves, look: other.shot.motion && lookAt(other.shot.motion, shown) };
  const partners: Partner[] = [];
  for (const shot of candidates) {
    if (!shot.motion || shot.id === other.shot.id || shot.frameCount < 2) continue;
    let best: Partner | null = null;
    for (const source of placesIn(shot, playedRange(document)[1] - from)) {
      const settings = settingsAt(document, place, shot, source, from);
      const judged = judge(document, theirs, { ...place, ...settings }, shot, source);
      if (judged && (!best || judged.cost < best.cost)) best = { shot, settings, ...judged };
    }
    if (best) partners.push(best);
  }
  return partners.sort((a, b) => a.cost - b.cost);
}

/**
 * All measured shots by how well they would sit as the incoming one of a crossing that is only being planned, from its
 * first frame to its last; as {@link rankPartners} does.
 */
export function rankIncoming(plan: Plan, outgoing: Shot, candidates: readonly Shot[]): Partner[] {
  const ids = { outgoing: outgoing.id, incoming: outgoing.id, passing: outgoing.id };
  let made = 0;
  const layers = layOut(plan, ids, { [outgoing.id]: outgoing.frameCount }, () => `layer ${made++}`);
  const crossing: CrossingRow = {
    ...plainCrossing,
    id: 'planned',
    name: '',
    plan,
    width: outgoing.width,
    height: outgoing.height,
    rateNum: outgoing.rate.num,
    rateDen: outgoing.rate.den,
    length: outgoing.frameCount,
  };
  const document = documentOf({ crossing: [crossing], layer: layers });
  const [layer, place] = (['outgoing', 'incoming'] as const).map((role) =>
    layers.find((each) => each.role === role)!,
  );
  return rankPartners(document, { layer, shot: outgoing }, place, candidates);
}

/** Source frames from which so many frames follow, evenly; the first one where the shot is too short. */
function placesIn({ frameCount }: Shot, needed: number): number[] {
  const last = frameCount - 1 - needed;
  if (last <= 0) return [0];
  const count = Math.min(mostPlaces, last + 1);
  return Array.from({ length: count }, (_, k) => Math.round((k * last) / Math.max(1, count - 1)));
}

/** The shot in the layer's place, at its own speed, showing a source frame on a crossing frame. */
function settingsAt(
  { crossing }: CrossingDocument,
  place: LayerRow,
  shot: Shot,
  source: number,
  at: number,
): Partial<LayerRow> {
  const offset = offsetAt(source, at, { ...place, ...ownTime }, rateOf(crossing), shot);
  return { shotId: shot.id, ...ownTime, offset };
}

/** What is known of the shot that stays. */
interface Theirs {
  meanX: number;
  meanY: number;
  look: readonly number[] | null;
}

/** Stops by which the light may differ, and how far the colour, before it is remarked on (taste). */
const [stops, colour] = [1, 0.06];

/** How far one look is from another: light in stops, colour from warm to cool and from green to magenta. */
function judgeLook(theirs: readonly number[], own: readonly number[]): { cost: number; says: string[] } {
  const [light, warm, tint] = own.map((value, k) => value - theirs[k]);
  const by = light / stopLevel;
  const says: string[] = [];
  if (Math.abs(by) > stops) says.push(`${Math.abs(by).toFixed(1)} stops ${by > 0 ? 'lighter' : 'darker'}`);
  if (Math.abs(warm) > colour) says.push(warm > 0 ? 'warmer' : 'cooler');
  if (says.length === 0 && Math.abs(tint) <= colour) says.push('light and colour near');
  return { cost: (Math.abs(by) / stops + Math.hypot(warm, tint) / colour) / 2, says };
}

function judge(
  document: CrossingDocument,
  theirs: Theirs,
  layer: LayerRow,
  shot: Shot,
  source: number,
): Pick<Partner, 'cost' | 'says'> | null {
  const [from, to] = edgeRange(document);
  const own = layerMotion(document, layer, shot, from, to);
  if (!own) return null;
  const { width } = document.crossing;
  const still = width * limits.still;
  const [pace, theirPace] = [Math.hypot(own.meanX, own.meanY), Math.hypot(theirs.meanX, theirs.meanY)];
  const says: string[] = [];
  let cost = 0;
  if (pace < still && theirPace < still) says.push('both stand still');
  else if (pace < still || theirPace < still) {
    cost += oneStill;
    says.push(pace < still ? 'stands still, the other moves' : 'moves, the other stands still');
  } else {
    const angle = angleBetween(theirs.meanX, theirs.meanY, own.meanX, own.meanY);
    const ratio = pace / theirPace;
    const mirrored = angleBetween(theirs.meanX, theirs.meanY, -own.meanX, own.meanY);
    const way = judgeWay(angle, mirrored);
    cost += way.cost + Math.abs(Math.log(ratio)) / Math.log(limits.fastest);
    says.push(
      way.says,
      ratio > limits.slowest && ratio < limits.fastest
        ? 'about as fast'
        : `${ratio.toFixed(ratio < 1 ? 2 : 1)} times as fast`,
    );
  }
  const light = theirs.look && shot.motion && lookAt(shot.motion, source);
  if (theirs.look && light) {
    const judged = judgeLook(theirs.look, light);
    cost += judged.cost;
    says.push(...judged.says);
  }
  const astray = own.unsteadiness / (width * limits.unsteady);
  cost += astray / 2;
  if (astray > 1) says.push('unsteady');
  const lacking = framesLacking(document, layer, shot, from);
  if (lacking > 0) {
    cost += tooShort;
    says.push(`${lacking} frames too short`);
  }
  says.push(`from its frame ${source}`);
  return { cost, says: says.join(', ') };
}

/** @param angle between the two movements, degrees. @param mirrored the same with the shot mirrored left to right. */
function judgeWay(angle: number, mirrored: number): { cost: number; says: string } {
  const { direction } = limits;
  if (angle <= direction) return { cost: angle / direction, says: 'goes the same way' };
  if (mirrored <= direction)
    return { cost: mirroring + mirrored / direction, says: 'goes the opposite way: mirror it' };
  return { cost: angle / direction, says: `goes at ${Math.round(angle)}° to it` };
}

/** Crossing frames from the opening to the end on which it has no picture. */
function framesLacking(document: CrossingDocument, layer: LayerRow, shot: Shot, from: number): number {
  let lacking = 0;
  for (let frame = from; frame <= playedRange(document)[1]; frame++)
    if (shownSourceFrame(document, layer, shot, frame) === null) lacking++;
  return lacking;
}
