import { shownSourceFrame, type Shots } from '../compose/source-frames';
import { cutsByPicture, layersInOrder, playedRange } from '../document/document';
import type { CrossingDocument, LayerRow, OutlineRow, PoseRow } from '../document/tables';
import { layoutOf, tracedLayer } from '../document/plans';
import { coveredAtOnce } from './at-once';
import { moveFindings } from './move-checks';
import type { Role } from '../model/choices';
import type { Shot } from '../model/shot';
import { type Finding, type Fix, framesPhrase, type Hit, stretches } from './findings';
import { endsInFrame, foldsOf, jitterOf, standstillsOf } from './line-checks';

/** Share of the frame up to which the last pose is pushed out; with more left the object is still in the picture. */
const mostPushed = 0.12;

/** Share of the frame by which coverage may shrink from one frame to the next before it counts as running back. */
const backTolerance = 0.002;

/**
 * What can be found without looking at the picture: from coverage, poses, and where the shots are.
 *
 * @param coverage share of the traced frame that the wipe has taken, for each crossing frame.
 * @param crossingFrame the crossing frame at which the layer of an outline shows a source frame, or null.
 */
export function crossingFindings(
  document: CrossingDocument,
  shots: Shots,
  coverage: ArrayLike<number>,
  crossingFrame: (outline: OutlineRow, source: number) => number | null,
): Finding[] {
  const [first, last] = playedRange(document);
  const findings: Finding[] = [...coverageFindings(document, shots, coverage, first, last)];
  for (const outline of Object.values(document.outlines)) {
    const layer = document.layers[outline.layerId];
    const shot = layer && shots[layer.shotId];
    if (shot && layer.visible)
      findings.push(...lineFindings(outline, document.poses[outline.id] ?? [], shot, crossingFrame));
  }
  findings.push(...runsOut(document, shots, coverage, first, last));
  findings.push(...moveFindings(document, shots, coverage, first, last));
  return findings.filter(({ from, to }) => to >= first && from <= last);
}

function coverageFindings(
  document: CrossingDocument,
  shots: Shots,
  coverage: ArrayLike<number>,
  first: number,
  last: number,
): Finding[] {
  const layer = tracedLayer(document);
  const cutting = Object.values(document.outlines)
    .filter((row) => (row.cutsLayerId ?? row.layerId) === layer?.id)
    .sort((a, b) => a.position - b.position);
  const { judged, until } = layoutOf(document.crossing.plan);
  if (coverage.length === 0 || cutting.length === 0 || !judged.coverage) return [];
  const outlineId = cutting[0].id;
  const found: Finding[] = [];
  const percent = (share: number) => `${(share * 100).toFixed(share > 0.99 || share < 0.01 ? 2 : 1)} %`;
  if (coverage[first] > 0.0005)
    found.push({
      kind: 'starts cut',
      outlineId,
      from: first,
      to: first,
      worst: first,
      says: `On the first frame ${percent(coverage[first])} is cut already; nothing should be.`,
      place: null,
      fix: null,
    });
  if (until === 'fills' && coverage[last] < 0.9995)
    found.push({
      kind: 'ends open',
      outlineId,
      from: last,
      to: last,
      worst: last,
      says: `On the last frame ${percent(1 - coverage[last])} still shows the old shot, softness included.`,
      place: null,
      fix: null,
    });
  // The last pose must cover the frame by itself: after it all is cut at once, and what was left would jump.
  if (until === 'fills') {
    let full = last;
    while (full > first && coverage[full - 1] >= 0.9995) full--;
    const before = coverage[full - 1];
    const step = full - 2 >= first ? before - coverage[full - 2] : 0;
    if (full > first && coverage[full] >= 0.9995 && before < 0.98 && 1 - before > 2.5 * Math.max(step, 0.004))
      found.push({
        kind: 'ends open',
        outlineId,
        from: full - 1,
        to: full - 1,
        worst: full - 1,
        says: `After frame ${full - 1} the last ${percent(1 - before)} is covered in one frame: ${
          1 - before > mostPushed
            ? 'the trace stops before the edge has left. Trace on'
            : 'the last pose does not cover the frame'
        }.`,
        place: null,
        fix: 1 - before > mostPushed ? null : 'push out',
      });
  }
  const said = found.filter(({ kind }) => kind === 'ends open').map(({ worst }) => worst);
  const atOnce = coveredAtOnce(document, shots, coverage, cutting, { first, last, said });
  found.push(...atOnce);
  const turned = runsBackThroughout(document, cutting, coverage, first, last);
  if (turned) return [...found, turned];
  const back: Hit[] = [];
  for (let frame = first + 1; frame <= last; frame++)
    if (coverage[frame] < coverage[frame - 1] - backTolerance && !atOnce.some(({ worst }) => worst === frame))
      back.push({ frame, measure: coverage[frame - 1] - coverage[frame] });
  for (const { from, to, frame, measure } of stretches(back))
    found.push({
      kind: 'runs back',
      outlineId,
      from,
      to,
      worst: frame,
      says: `${framesPhrase({ from, to })}: the wipe runs back, by ${percent(measure)} of the frame.`,
      place: null,
      fix: null,
    });
  return found;
}

/** Share of the frame that must be given back, and how many times what is taken, for the side to be the wrong one. */
const givenBack = 0.05;
const backToForth = 4;

/** One seam whose coverage shrinks all along sweeps the side that it should keep. */
function runsBackThroughout(
  document: CrossingDocument,
  cutting: readonly OutlineRow[],
  coverage: ArrayLike<number>,
  first: number,
  last: number,
): Finding | null {
  const [seam] = cutting;
  if (cutting.length !== 1 || seam.kind !== 'seam' || cutsByPicture(document)) return null;
  let [back, forth, from, to] = [0, 0, -1, -1];
  for (let frame = first + 1; frame <= last; frame++) {
    const [before, now] = [coverage[frame - 1], coverage[frame]];
    // The jumps from nothing and to everything are not the line's own.
    if (before < 0.0005 || now > 0.9995) continue;
    if (now < before) {
      back += before - now;
      if (from < 0) from = frame;
      to = frame;
    } else forth += now - before;
  }
  if (back < givenBack || back < backToForth * forth) return null;
  return {
    kind: 'runs back',
    outlineId: seam.id,
    from,
    to,
    worst: from,
    says: `${framesPhrase({ from, to })}: the wipe runs back all along. ${seam.name} sweeps the side that it should leave alone.`,
    place: null,
    fix: 'flip side',
  };
}

function lineFindings(
  outline: OutlineRow,
  poses: readonly PoseRow[],
  shot: Shot,
  crossingFrame: (outline: OutlineRow, source: number) => number | null,
): Finding[] {
  const inCrossing = (hits: readonly Hit[]) =>
    hits.flatMap((hit) => {
      const frame = crossingFrame(outline, hit.frame);
      return frame === null ? [] : [{ ...hit, frame }];
    });
  const said = (
    kind: Finding['kind'],
    hits: readonly Hit[],
    gap: number,
    fix: Fix | null,
    say: (phrase: string, measure: number) => string,
  ): Finding[] =>
    stretches(inCrossing(hits), gap).map(({ from, to, frame, measure, place }) => ({
      kind,
      outlineId: outline.id,
      from,
      to,
      worst: frame,
      says: say(framesPhrase({ from, to }), measure),
      place: place ?? null,
      fix,
    }));
  const px = (measure: number) => `${measure.toFixed(1)} px`;
  return [
    ...said(
      'end in frame',
      endsInFrame(outline, poses, shot),
      12,
      'draw out',
      (frames, measure) =>
        `${frames}: an end of ${outline.name} lies ${px(measure)} inside the picture; it should reach past the border.`,
    ),
    ...said(
      'jitters',
      jitterOf(outline, poses, shot),
      1,
      'smooth pose',
      (frames, measure) => `${frames}: the line jumps about ${px(measure)} off its path.`,
    ),
    ...said(
      'stands still',
      standstillsOf(poses),
      1,
      'remove poses',
      (frames) =>
        `${frames}: the pose is that of the frame before, though the edge moves; a frame was missed.`,
    ),
    ...said(
      'folds',
      foldsOf(outline, poses, shot),
      4,
      null,
      (frames) => `${frames}: the line crosses itself, or points lie on each other.`,
    ),
  ];
}

/** What of the wipe must not have come yet, or must have begun, for a role's shot to be seen. */
const isWanted: Readonly<Record<Role, (covered: number) => boolean>> = {
  outgoing: (covered) => covered < 0.9995,
  incoming: (covered) => covered > 0.0005,
  passing: () => false,
};

/** Frames on which a shot is seen, or would be, and has no picture; and those on which no shot has one. */
function runsOut(
  document: CrossingDocument,
  shots: Shots,
  coverage: ArrayLike<number>,
  first: number,
  last: number,
): Finding[] {
  const visible = layersInOrder(document).filter((layer) => layer.visible && shots[layer.shotId]);
  // What has faded has a picture still, and is meant.
  const hasPicture = (layer: LayerRow, frame: number) =>
    shownSourceFrame(document, layer, shots[layer.shotId], frame) !== null;
  const said = (hits: readonly Hit[], says: (phrase: string) => string) =>
    stretches(hits).map(({ from, to }) => ({
      kind: 'runs out' as const,
      ...{ outlineId: null, from, to, worst: from, place: null, fix: null },
      says: says(framesPhrase({ from, to })),
    }));
  const bare: Hit[] = [];
  const lacking: Record<Role, Hit[]> = { outgoing: [], incoming: [], passing: [] };
  // What a passing shot's edges cover is not told by one coverage.
  const judged =
    layoutOf(document.crossing.plan).judged.coverage && tracedLayer(document)?.role !== 'passing';
  for (let frame = first; frame <= last; frame++) {
    if (visible.length > 0 && !visible.some((layer) => hasPicture(layer, frame))) {
      bare.push({ frame, measure: 1 });
      continue;
    }
    for (const role of judged ? (['outgoing', 'incoming'] as const) : (['incoming'] as const)) {
      const own = visible.filter((layer) => layer.role === role);
      if (own.length === 0 || !isWanted[role](coverage[frame] ?? 0)) continue;
      if (!own.some((layer) => hasPicture(layer, frame))) lacking[role].push({ frame, measure: 1 });
    }
  }
  return [
    ...said(bare, (frames) => `${frames}: no shot has a picture there; the result is black.`),
    ...(['outgoing', 'incoming'] as const).flatMap((role) =>
      said(
        lacking[role],
        (frames) => `${frames}: the ${role} shot has no picture there; slip it, slow it down or freeze it.`,
      ),
    ),
  ];
}
