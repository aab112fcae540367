import { blurOf } from '../compose/blur';
import { layerAt, movedAt, moves, opacityAt, restOf } from '../compose/moves';
import { shownScale } from '../compose/placement';
import { layoutOf, tracedLayer } from '../document/plans';
import { shownSourceFrame, type Shots } from '../compose/source-frames';
import { layersInOrder } from '../document/document';
import type { CrossingDocument } from '../document/tables';
import { rampPercentAt } from '../time/ramp';
import { type Finding, framesPhrase, type Hit, stretches } from './findings';
import { jolts } from './jolts';
import { beyondBorder, borderAt } from '../compose/border';

/** What is wrong with moves and speeds: borders, stutters, jolts, ends that are not at rest. */
export function moveFindings(
  document: CrossingDocument,
  shots: Shots,
  coverage: ArrayLike<number>,
  first: number,
  last: number,
): Finding[] {
  return [
    ...bordersShown(document, shots, first, last),
    ...framesRepeated(document, shots, first, last),
    ...notAtRest(document, first, last),
    ...tooEnlarged(document, shots, coverage, first, last),
    ...jolts(document, shots, first, last),
  ];
}

/** px and percent by which a picture may be off its rest at the crossing's ends without a jump being seen. */
const unseen = 0.5;

/** Where the outgoing shot does not begin, or the incoming one not end, as it is in the cut: there the picture jumps. */
function notAtRest(document: CrossingDocument, first: number, last: number): Finding[] {
  const layers = layersInOrder(document).filter(({ visible }) => visible);
  const ends = [
    { role: 'outgoing', frame: first, says: 'begins' },
    { role: 'incoming', frame: last, says: 'ends' },
  ] as const;
  return ends.flatMap(({ role, frame, says }) => {
    const layer = layers.find((each) => each.role === role);
    if (!layer) return [];
    const off = [layer.id, document.crossing.id].some((id) => {
      const [moved, rest] = [movedAt(document, id, frame), restOf(document, id)];
      return (['x', 'y', 'size', 'turn', 'opacity'] as const).some(
        (key) => Math.abs(moved[key] - rest[key]) > unseen,
      );
    });
    if (!off) return [];
    return [
      {
        kind: 'not at rest' as const,
        outlineId: null,
        from: frame,
        to: frame,
        worst: frame,
        says: `Frame ${frame}: the ${role} shot ${says} moved, enlarged or faded; beside its own picture in the film it jumps.`,
        place: null,
        fix: 'bring to rest',
      },
    ];
  });
}

/** A ramp shows a frame so often at the most, before it is seen. */
const mostShown = 2;

/** Frames on which a ramped layer shows the same frame of its shot for the third time or more; one meant to stand still may. */
function framesRepeated(document: CrossingDocument, shots: Shots, first: number, last: number): Finding[] {
  return layersInOrder(document).flatMap((layer) => {
    const shot = shots[layer.shotId];
    // Mixed, no two are alike.
    if (!shot || !layer.visible || layer.ramp.length === 0 || layer.betweens === 'mixed') return [];
    const hits: Hit[] = [];
    let times = 1;
    for (let frame = first + 1; frame <= last; frame++) {
      const source = shownSourceFrame(document, layer, shot, frame);
      const again = source !== null && source === shownSourceFrame(document, layer, shot, frame - 1);
      const meant = source === layer.holdFrom || rampPercentAt(layer.ramp, frame) === 0;
      times = again && !meant ? times + 1 : 1;
      if (times > mostShown) hits.push({ frame, measure: times });
    }
    return stretches(hits, mostShown + 2).map(({ from, to, frame, measure }): Finding => ({
      kind: 'frames repeat',
      outlineId: null,
      from,
      to,
      worst: frame,
      says: `${framesPhrase({ from, to })}: ${shot.name} runs so slowly that a frame is shown ${measure} times; it looks like a stutter.`,
      place: null,
      fix: 'mix frames',
    }));
  });
}

/** Frames on which the lowest layer, moved, leaves a border of the frame uncovered. */
function bordersShown(document: CrossingDocument, shots: Shots, first: number, last: number): Finding[] {
  const layer = layersInOrder(document).find(({ visible }) => visible);
  const shot = layer && shots[layer.shotId];
  if (!shot || !layoutOf(document.crossing.plan).judged.border) return [];
  const blurs = document.crossing.blurBorder === 'transparent';
  if (!moves(document, layer) && !blurs) return [];
  const hits: Hit[] = [];
  for (let frame = first; frame <= last; frame++) {
    const source = shownSourceFrame(document, layer, shot, frame);
    if (source === null) continue;
    const blur = blurs
      ? blurOf(document, layer, shot, { frame, sourceFrame: source, bentAt: () => null })
      : null;
    // A blur that shows what lies beneath shows it half-way along its length.
    const over = borderAt(document, layer, shot, frame, source) + (blur ? blur.length / 2 : 0);
    if (over > beyondBorder) hits.push({ frame, measure: over });
  }
  return stretches(hits).map(({ from, to, frame, measure }) => ({
    kind: 'border shows',
    outlineId: null,
    from,
    to,
    worst: frame,
    says: `${framesPhrase({ from, to })}: the lowest shot does not fill the frame; ${Math.ceil(measure)} px of a border stay black. Enlarge it or move it back.`,
    place: null,
    fix: 'enlarge',
  }));
}

/** Above this, in percent of its own pixels, a picture that rests looks soft (common practice, no source). */
export const softAbove = 150;

/** Frames on which a shot that is seen stands still, enlarged so far that it looks soft. */
function tooEnlarged(
  document: CrossingDocument,
  shots: Shots,
  coverage: ArrayLike<number>,
  first: number,
  last: number,
): Finding[] {
  const traced = tracedLayer(document);
  return layersInOrder(document).flatMap((layer) => {
    const shot = shots[layer.shotId];
    if (!shot || !layer.visible) return [];
    const hits: Hit[] = [];
    const shownAt = (frame: number) =>
      Math.round(10 * shownScale(document.crossing, layerAt(document, layer, frame), shot)) / 10;
    for (let frame = first; frame <= last; frame++) {
      const measure = shownAt(frame);
      const still = measure === shownAt(frame - 1) && measure === shownAt(frame + 1);
      const gone = layer === traced && coverage[frame] > 0.98;
      const seen =
        shownSourceFrame(document, layer, shot, frame) !== null && opacityAt(document, layer, frame) > 0;
      if (measure > softAbove && still && seen && !gone) hits.push({ frame, measure });
    }
    return stretches(hits).map(({ from, to, frame, measure }): Finding => ({
      kind: 'enlarged',
      outlineId: null,
      from,
      to,
      worst: frame,
      says: `${framesPhrase({ from, to })}: ${shot.name} stands still at ${Math.round(measure)} % of its own pixels; over ${softAbove} % it looks soft.`,
      place: null,
      fix: null,
    }));
  });
}
