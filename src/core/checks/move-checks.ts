import { movedAt, moves, restOf, shotMapAt } from '../compose/moves';
import { shownSourceFrame, type Shots } from '../compose/scene';
import { type CrossingDocument, layersInOrder } from '../document/document';
import { applyAffine } from '../geometry/affine';
import { rampPercentAt } from '../time/ramp';
import { type Finding, framesPhrase, type Hit, stretches } from './findings';

/** What is wrong with moves and speeds: borders, stutters, ends that are not at rest. */
export function moveFindings(
  document: CrossingDocument,
  shots: Shots,
  first: number,
  last: number,
): Finding[] {
  return [
    ...bordersShown(document, shots, first, last),
    ...framesRepeated(document, shots, first, last),
    ...notAtRest(document, first, last),
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
        fix: null,
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
    if (!shot || !layer.visible || layer.ramp.length === 0) return [];
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
      fix: null,
    }));
  });
}

/** px of the shot by which a corner of the frame may lie beyond it: less is not seen. */
const beyondBorder = 0.5;

/** Frames on which the lowest layer, moved, leaves a border of the frame uncovered. */
function bordersShown(document: CrossingDocument, shots: Shots, first: number, last: number): Finding[] {
  const layer = layersInOrder(document).find(({ visible }) => visible);
  const shot = layer && shots[layer.shotId];
  // Pulled back, the picture beneath lies in an opening.
  if (!shot || !moves(document, layer) || document.crossing.plan === 'pull-back') return [];
  const { width, height } = document.crossing;
  const hits: Hit[] = [];
  for (let frame = first; frame <= last; frame++) {
    const source = shownSourceFrame(document, layer, shot, frame);
    if (source === null) continue;
    const map = shotMapAt(document, layer, shot, frame, source);
    const over = Math.max(
      ...[0, width].flatMap((x) =>
        [0, height].map((y) => {
          const [sx, sy] = applyAffine(map, x, y);
          return Math.max(-sx, -sy, sx - shot.width, sy - shot.height);
        }),
      ),
    );
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
    fix: null,
  }));
}
