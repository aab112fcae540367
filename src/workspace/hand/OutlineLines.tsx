import type Konva from 'konva';
import { Shape } from 'react-konva';
import type { Finding } from '@/core/checks/findings';
import { firstKeyFrom } from '@/core/time/track';
import type { PoseRow } from '@/core/document/tables';
import type { SoftnessKnob } from '@/core/edge/softness';
import { startingCoordinates } from '@/core/outline';
import { useChecks } from '../check/checks-store';
import {
  drawBox,
  drawFinding,
  drawPoints,
  drawSoftness,
  drawUnsure,
  hatchRegion,
  outlineInk,
  strokeOutline,
  tickSide,
} from '../sight/paint';
import type { ShapeBox } from '../sight/shape-box';
import type { TracedOutline } from './useShownOutline';

type Context = Konva.Context;

/** Neighbouring poses, before and after the frame. */
const onionInk = { before: '#ffcf8a', after: '#b9e3ff' };

/** The traced shot's outlines, with points, box, knobs and findings of the one in hand. */
export function OutlineLines({
  shown,
  paints,
  box,
  knobs,
}: {
  shown: TracedOutline;
  paints: boolean;
  box: ShapeBox | null;
  knobs: readonly SoftnessKnob[];
}) {
  const findings = useChecks((state) => state.findings);
  const { playing, both, frame, outline, step } = shown;
  const here =
    step === 'Check'
      ? findings.filter(({ worst, outlineId }) => worst === frame && outlineId === outline?.id)
      : [];
  return (
    <Shape
      sceneFunc={(context) => {
        if (playing || both) return;
        drawOthers(context, shown);
        drawInHand(context, shown, { paints, box, knobs, findings: here });
      }}
    />
  );
}

function drawOthers(context: Context, { traced, outline, source, sight }: TracedOutline) {
  for (const { id, hidden, kind, colour } of traced.outlines) {
    if (id === outline?.id || hidden) continue;
    const coordinates = startingCoordinates(traced.document.poses[id] ?? [], source);
    if (coordinates)
      strokeOutline(context, coordinates, kind === 'loop', sight, {
        ink: outlineInk[colour],
        dash: [6, 5],
        alpha: 0.6,
      });
  }
}

function drawInHand(
  context: Context,
  shown: TracedOutline,
  {
    paints,
    box,
    knobs,
    findings,
  }: {
    paints: boolean;
    box: ShapeBox | null;
    knobs: readonly SoftnessKnob[];
    findings: readonly Finding[];
  },
) {
  const { traced, outline, asDrafted, coordinates, sight, present, quiet, points, edge, pose } = shown;
  if (!outline || !asDrafted || !coordinates || outline.hidden) return;
  const closed = outline.kind === 'loop';
  if (present && !quiet) hatchRegion(context, asDrafted, coordinates, traced.shot, sight);
  if (shown.onion && !quiet)
    for (const near of neighboursOf(shown))
      strokeOutline(context, near.coordinates, closed, sight, {
        ink: near.frame < shown.source ? onionInk.before : onionInk.after,
        dash: [3, 4],
        alpha: 0.55,
      });
  strokeOutline(context, coordinates, closed, sight, {
    ink: outlineInk[outline.colour],
    dash: present ? [] : [8, 6],
    alpha: quiet && shown.tool === 'edit' && points.size === 0 ? 0.55 : present ? 1 : 0.7,
  });
  if (pose?.unsure && !quiet) drawUnsure(context, coordinates, closed, pose.offBy, sight);
  if (!closed && present) tickSide(context, asDrafted, coordinates, sight);
  if (!outline.locked && !paints) drawPoints(context, coordinates, points, sight);
  if (box) drawBox(context, box, sight);
  if (edge && present) drawSoftness(context, { outline, coordinates, edge, knobs }, sight);
  for (const { place } of findings) if (place) drawFinding(context, sight.place(...place));
}

/** The poses before and after the frame that is shown. */
function neighboursOf({ poses, source }: TracedOutline): PoseRow[] {
  const at = firstKeyFrom(poses, source);
  return [poses[at - 1], poses[at]?.frame === source ? poses[at + 1] : poses[at]].filter(Boolean);
}
