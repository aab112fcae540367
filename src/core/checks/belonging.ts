import { rateOf } from '../time/rate';
import { shownRange, shownSourceFrame } from '../compose/source-frames';
import { playedRange, markedFrame } from '../document/document';
import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { layerMotion, type LayerMotion } from '../compose/layer-motion';
import { largestZoom, steadying } from '../motion/steady';
import { crossingFrameOf, offsetShowing, sourceFrameAt, withSpeed } from '../time/time-map';

/** What a check has to say, with a way to mend it where there is one. */
export interface Finding {
  kind: 'direction' | 'speed' | 'unsteady' | 'short' | 'reach' | 'travel';
  /** What is wrong and what to do, in plain words. */
  says: string;
  /** What the way to mend it is called, and the layer's settings that do it. */
  fixes: { label: string; layerId: string; settings: Partial<LayerRow> }[];
}

export interface Belonging {
  top: LayerMotion;
  other: LayerMotion;
  findings: Finding[];
}

/** Limits beyond which a pair is remarked on: common practice, no source. */
export const limits = {
  /** Degrees between the directions. */
  direction: 30,
  slowest: 0.67,
  fastest: 1.5,
  /** Share of the crossing's width that a picture may stray from its course. */
  unsteady: 0.0022,
  /** Px a frame, as a share of the width, below which a picture counts as still. */
  still: 0.0004,
  /** Share of the frame's height or width that the object may fall short. */
  reach: 0.15,
};

export type Side = { layer: LayerRow; shot: Shot; name: string };

/**
 * Whether two shots make a good crossing: how they move against each other between the opening and the closing
 * frame, how steady they are, and whether the object and the lengths do.
 *
 * @param top the traced layer, `other` the one it gives way to.
 * @returns null while a shot's motion is not measured.
 */
export function belonging(document: CrossingDocument, top: Side, other: Side): Belonging | null {
  const [from, to] = edgeRange(document);
  const a = layerMotion(document, top.layer, top.shot, from, to);
  const b = layerMotion(document, other.layer, other.shot, from, to);
  if (!a || !b) return null;
  const findings = [
    ...movementFindings(document, a, b, other),
    ...unsteadyFindings(document, a, top),
    ...unsteadyFindings(document, b, other),
    ...lengthFindings(document, other, from),
    ...objectFindings(top.shot),
  ];
  return { top: a, other: b, findings };
}

/** From the frame marked *opens* to the one marked *closes*; where one is missing, the played range's end. */
export function edgeRange(document: CrossingDocument): [from: number, to: number] {
  const [first, last] = playedRange(document);
  return [markedFrame(document, 'opens') ?? first, markedFrame(document, 'closes') ?? last];
}

/** Degrees between two movements, 0 to 180. */
export function angleBetween(ax: number, ay: number, bx: number, by: number): number {
  return (Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by)) * 180) / Math.PI;
}

function movementFindings(
  document: CrossingDocument,
  a: LayerMotion,
  b: LayerMotion,
  { layer, shot, name }: Side,
): Finding[] {
  const still = document.crossing.width * limits.still;
  const [speedA, speedB] = [Math.hypot(a.meanX, a.meanY), Math.hypot(b.meanX, b.meanY)];
  if (speedA < still && speedB < still) return [];
  if (speedA < still || speedB < still) {
    const which = speedA < still ? 'One shot stands still while' : 'The shots differ:';
    return [
      {
        kind: 'speed',
        says: `${which} ${speedA < still ? name : 'the traced one'} moves ${Math.max(speedA, speedB).toFixed(1)} px a frame and the other hardly at all. Choose shots that move alike, or hide it with a faster edge.`,
        fixes: [],
      },
    ];
  }
  const findings: Finding[] = [];
  const angle = angleBetween(a.meanX, a.meanY, b.meanX, b.meanY);
  if (angle > limits.direction) {
    const flipped = angleBetween(a.meanX, a.meanY, -b.meanX, b.meanY);
    const settings = { flip: !layer.flip };
    findings.push({
      kind: 'direction',
      says: `${name} moves ${angle > 150 ? 'the opposite way to' : `at ${Math.round(angle)}° to`} the other shot. ${flipped < limits.direction ? 'Mirror it to match.' : 'Another shot would fit better.'}`,
      fixes: flipped < limits.direction ? [{ label: 'Mirror it', layerId: layer.id, settings }] : [],
    });
  }
  const ratio = speedB / speedA;
  if (ratio < limits.slowest || ratio > limits.fastest) {
    const { rateNum, rateDen } = document.crossing;
    const speed = Math.round((layer.speed / ratio) * 100) / 100;
    const within = speed >= 25 && speed <= 800;
    const [at] = edgeRange(document);
    const map = withSpeed(layer, { speed }, at, { num: rateNum, den: rateDen }, shot.rate);
    findings.push({
      kind: 'speed',
      says: `${name} moves ${ratio.toFixed(2)} times as fast as the other shot (${speedB.toFixed(1)} against ${speedA.toFixed(1)} px a frame). ${within ? `At ${speed} % they would keep pace.` : 'No speed that Kiv offers evens that out.'}`,
      fixes: within
        ? [{ label: `Run it at ${speed} %`, layerId: layer.id, settings: { speed, offset: map.offset } }]
        : [],
    });
  }
  return findings;
}

function unsteadyFindings(
  document: CrossingDocument,
  motion: LayerMotion,
  { layer, shot, name }: Side,
): Finding[] {
  if (motion.unsteadiness <= document.crossing.width * limits.unsteady) return [];
  const steady = layer.steady === 0 ? 60 : Math.min(100, layer.steady + 20);
  const { zoom } = steadying(shot.motion!, steady, shot.width, shot.height);
  const most = zoom >= largestZoom * 0.97;
  return [
    {
      kind: 'unsteady',
      says: `${name} is unsteady: it strays ${motion.unsteadiness.toFixed(1)} px from its course. ${most ? 'Steadying it all the way would take too much of the picture.' : `Steadied, it loses ${Math.round((1 - 1 / zoom) * 100)} % at its borders.`}`,
      fixes:
        steady > layer.steady
          ? [{ label: `Steady it (${steady} %)`, layerId: layer.id, settings: { steady } }]
          : [],
    },
  ];
}

/** Whether the incoming shot has a picture from the opening frame to the crossing's end. */
function lengthFindings(document: CrossingDocument, { layer, shot, name }: Side, from: number): Finding[] {
  const [, end] = playedRange(document);
  const missing = (frame: number) => shownSourceFrame(document, layer, shot, frame) === null;
  let lacking = 0;
  for (let frame = from; frame <= end; frame++) if (missing(frame)) lacking++;
  if (lacking === 0) return [];
  const [first, last] = shownRange(layer, shot);
  const rate = rateOf(document.crossing);
  const fixes: Finding['fixes'] = [];
  const entry = offsetShowing(layer.reverse ? last : first, layer, shot);
  const shown = crossingFrameOf(
    layer.reverse ? first - 1 : last + 1,
    { ...layer, offset: entry, holdFrom: null },
    rate,
    shot,
  );
  if (shown >= end - from + 1) {
    const offset = sourceFrameAt(-from, { ...layer, offset: entry, holdFrom: null }, rate, {
      rate: shot.rate,
    });
    fixes.push({ label: `Slip it to begin at ${from}`, layerId: layer.id, settings: { offset } });
  }
  if (missing(end) && !missing(from))
    fixes.push({
      label: 'Freeze last frame',
      layerId: layer.id,
      settings: { holdFrom: layer.reverse ? first : last },
    });
  return [
    {
      kind: 'short',
      says: `${name} has no picture on ${lacking} of the frames from the opening to the end. Slip it, slow it down, or freeze its last frame.`,
      fixes,
    },
  ];
}

function objectFindings({ motion }: Shot): Finding[] {
  const crosser = motion?.crosser;
  if (!crosser || crosser.kind !== 'across') return [];
  const findings: Finding[] = [];
  if (crosser.top > limits.reach || crosser.bottom < 1 - limits.reach) {
    const where = [
      crosser.top > limits.reach ? `from ${Math.round(crosser.top * 100)} %` : 'from the top',
      crosser.bottom < 1 - limits.reach
        ? `to ${Math.round(crosser.bottom * 100)} % of the height`
        : 'to the bottom',
    ];
    findings.push({
      kind: 'reach',
      says: `What passes seems to reach only ${where.join(' ')}: where it does not cover the frame, the cut will show. Scale the shot up until it does, or take another.`,
      fixes: [],
    });
  }
  if (crosser.reach < 1 - limits.reach)
    findings.push({
      kind: 'travel',
      says: `What passes gets only ${Math.round(crosser.reach * 100)} % of the way across. The last part would have to be wiped without an edge; take a longer stretch of the shot.`,
      fixes: [],
    });
  return findings;
}
