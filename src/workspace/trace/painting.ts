import { create } from 'zustand';
import { drawSubject, partsAt, redrawSubject, strokeRow } from '@/core/actions/subject-actions';
import { putSettled, unsurePoses } from '@/core/actions/carry-actions';
import { putSubject } from '@/core/actions/subject-course';
import { applyChanges, strokesOf } from '@/core/document/document';
import type { CrossingDocument, OutlineRow } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { nextOutline } from '@/core/document/plans';
import type { StrokeMark } from '@/core/model/choices';
import { startingCoordinates } from '@/core/outline';
import type { Stroke } from '@/core/subject/strokes';
import { sentenceOf } from '@/interface/api';
import type { Lying } from '@/core/subject/subject-pose';
import type { Becomes, CutLoop, SubjectAsked } from '@/render/subject-cutter';
import { useDocument } from '../document/document-store';
import { takeTool } from '../view/show';
import { setView } from '../view/view-store';
import { beginRun, busyNow, carrierBegun, carrierNow, useCarry } from './carry-store';
import { selectedSources } from '../session/scope';
import { edit } from '../session/edit';
import { current, framePhrase, lockedNow } from '../session/in-hand';
import { type Traced, tracedNow } from '../session/traced';

/** What a newly painted subject becomes: a loop about it, or a seam on its left or right. */
export type SubjectAs = 'loop' | 'left' | 'right';

interface PaintingState {
  mark: StrokeMark;
  /** Half the brush's width as a share of the shot's width. */
  size: number;
  becomes: SubjectAs;
  /** Whether the next stroke begins a subject of its own. */
  anew: boolean;
  /** Strokes that have no answer yet. */
  waiting: readonly Stroke[];
  /** What came of a stroke that could not be used, on which source frame. */
  says: { text: string; source: number } | null;
}

export const usePainting = create<PaintingState>(() => ({
  mark: 'this',
  size: 0.01,
  becomes: 'loop',
  anew: false,
  waiting: [],
  says: null,
}));

const set = usePainting.setState;

/** Bounds of the brush's half width, share of the shot's width, and how much a step changes it. */
export const brushSizes = { least: 0.002, most: 0.08, step: 1.25 };

function setBrush(size: number) {
  set({ size: Math.min(brushSizes.most, Math.max(brushSizes.least, size)) });
}

/** A step wider (1) or narrower (−1). */
export function changeBrush(by: 1 | -1) {
  const { size } = usePainting.getState();
  setBrush(by > 0 ? size * brushSizes.step : size / brushSizes.step);
}

/** As far as the wheel is turned; away is wider. */
export function turnBrush(delta: number) {
  setBrush(usePainting.getState().size * Math.exp(-delta * 0.0015));
}

const marks: readonly StrokeMark[] = ['this', 'not this', 'open'];

/** The next of *this*, *not this* and *rub out*. */
export function nextMark() {
  set({ mark: marks[(marks.indexOf(usePainting.getState().mark) + 1) % marks.length] });
}

/** Takes the brush. */
export function takeBrush() {
  set({ anew: false, says: null });
  takeTool('brush');
}

/** The outline that a stroke is about: the one in hand, or the one whose part that is; null where a new one begins. */
export function paintedOutline(
  traced: Traced | null,
  outline: OutlineRow | null,
  anew: boolean,
): OutlineRow | null {
  if (!traced || !outline || anew) return null;
  const own = (outline.subjectId && traced.document.outlines[outline.subjectId]) || outline;
  // A seam that nobody painted has no inside that strokes could be about.
  return own.painted || own.kind === 'loop' ? own : null;
}

let answers: Promise<unknown> = Promise.resolve();

/** Takes a stroke in: the outline follows it. Strokes are answered one after the other. */
export function paint(stroke: Stroke) {
  const { traced, source } = current();
  if (!traced) return;
  const at = { crossingId: traced.document.crossing.id, layerId: traced.layer.id, source };
  // Asked for before anything is drawn anew: the answer is what is waited for.
  answers = answers.then(async () => {
    try {
      const says = await answer(stroke, at);
      if (says) set({ says: { text: says, source } });
    } catch (error) {
      const text = `The stroke could not be used: ${sentenceOf(error)} Nothing was changed.`;
      set({ says: { text, source } });
    } finally {
      set({ waiting: usePainting.getState().waiting.filter((other) => other !== stroke) });
    }
  });
  queueMicrotask(() => set({ waiting: [...usePainting.getState().waiting, stroke], says: null }));
}

/** An outline with its further parts and holes on a source frame; null where it has no pose. */
function lyingAt(document: CrossingDocument, outlineId: string, frame: number): Lying | null {
  const coordinates = startingCoordinates(document.poses[outlineId] ?? [], frame);
  return coordinates && { coordinates, parts: partsAt(document, outlineId, frame) };
}

interface PaintedAt {
  crossingId: string;
  layerId: string;
  /** Source frame. */
  source: number;
}

/** @returns a sentence where the stroke could not be used. */
async function answer(stroke: Stroke, at: PaintedAt): Promise<string | null> {
  const carrier = carrierNow() ?? (await carrierBegun());
  const begun = standing(at);
  if (!carrier || !begun)
    return carrier
      ? null
      : 'This part of the page could not be started. Load the page again; everything is saved.';
  const { traced, outline } = begun;
  if (outline?.locked) return lockedNow();
  if (!outline && stroke.mark !== 'this') return 'Paint over what it is first; then over what it is not.';
  const { document } = traced;
  const strokes = [
    ...(outline ? strokesOf(document, outline.id).filter(({ frame }) => frame === at.source) : []),
    stroke,
  ];
  const poses = (outline && document.poses[outline.id]) ?? [];
  const elsewhere = poses.some(({ frame }) => frame !== at.source);
  const lying = outline && lyingAt(document, outline.id, at.source);
  const asked: SubjectAsked = {
    strokes,
    // An outline begun by strokes is made of them alone; any other lies near the subject already.
    prior: outline?.kind === 'loop' && (elsewhere || !outline.painted) ? lying : null,
    becomes:
      outline && lying && (elsewhere || outline.kind === 'seam')
        ? { as: 'pose', kind: outline.kind, ...lying }
        : { as: outline ? 'loop' : usePainting.getState().becomes },
  };
  const loops = await carrier.subject(traced.shot.id, at.source, asked);
  if (loops.length === 0)
    return outline
      ? 'With this stroke nothing of the subject would be left; it was not used.'
      : 'Nothing stands out from its surroundings there. Paint over more of it.';
  // What was done meanwhile counts.
  const now = standing(at);
  if (!now || now.outline?.id !== outline?.id || now.outline?.locked) return null;
  if (now.traced.document !== document && outline && outline.points !== now.outline?.points) return null;
  take(now.traced, now.outline, at.source, stroke, loops, asked.becomes);
  return null;
}

/** The layer that was painted on, if it is still there, and the outline that strokes are about now. */
function standing({ crossingId, layerId }: PaintedAt): { traced: Traced; outline: OutlineRow | null } | null {
  const traced = tracedNow();
  if (traced?.document.crossing.id !== crossingId || traced.layer.id !== layerId) return null;
  return { traced, outline: paintedOutline(traced, current().outline, usePainting.getState().anew) };
}

/** One edit: the stroke, and the outline as it wants it. */
function take(
  traced: Traced,
  outline: OutlineRow | null,
  source: number,
  stroke: Stroke,
  loops: readonly CutLoop[],
  becomes: Becomes,
) {
  const { document, layer, outlines } = traced;
  const newId = () => crypto.randomUUID();
  const put = (changes: RowChange[], id: string, name: string) => {
    const after = applyChanges(document, changes);
    const row = strokeRow(after, id, source, stroke, newId());
    edit(`Paint ${name}, ${framePhrase()}`, [...changes, row]);
  };
  if (outline) {
    const changes =
      becomes.as === 'pose'
        ? putSubject(document, outline.id, source, lyingIn(loops), newId)
        : redrawSubject(document, outline.id, source, loops, newId);
    put(changes, outline.id, outline.name);
    return;
  }
  const planned = nextOutline(document, layer.id);
  const number = 1 + outlines.filter(({ name }) => name.startsWith('Subject')).length;
  const subject = {
    id: newId(),
    layerId: layer.id,
    cutsLayerId: planned.cutsLayerId,
    purpose: planned.purpose,
    name: planned.name ?? `Subject ${number}`,
    kind: becomes.as === 'loop' ? ('loop' as const) : ('seam' as const),
    // From its highest place to its lowest: what lies beside it is swept.
    sweptSide: becomes.as === 'right' ? ('left' as const) : ('right' as const),
  };
  put(drawSubject(document, subject, source, loops, newId), subject.id, subject.name);
  set({ anew: false });
  setView({ outlineId: subject.id, points: new Set() });
}

/** What was cut as a pose and its parts. */
function lyingIn([own, ...rest]: readonly CutLoop[]): Lying {
  return { coordinates: own.coordinates, parts: rest.map(({ id = '', ...part }) => ({ ...part, id })) };
}

/** Makes the frame on screen ready to be painted on. */
export async function readyToPaint() {
  const { traced, source } = current();
  if (!traced) return;
  const carrier = await carrierBegun();
  await carrier?.readySubject(traced.shot.id, source).catch(() => {
    // It is said when a stroke is painted.
  });
}

/** Frames of a loop on which it may be cut anew: those that are not sure, or the selected ones with a pose. */
function framesToCut(
  document: CrossingDocument,
  outlineId: string,
  takes: ((frame: number) => boolean) | null,
) {
  const poses = document.poses[outlineId] ?? [];
  return takes ? poses.filter(({ frame }) => takes(frame)) : unsurePoses(poses);
}

/**
 * Cuts the outline in hand anew where it was carried and is not sure, or on the selected frames: by the colours inside and
 * outside it there. Poses by hand stay.
 */
export async function cutAnew(): Promise<string | null> {
  const { traced, outline, view } = current();
  if (!traced || !outline) return 'There is no outline to cut again.';
  if (outline.locked) return lockedNow();
  if (outline.kind !== 'loop') return 'Only a loop has an inside by which it can be cut again.';
  const busy = busyNow();
  if (busy) return busy;
  const selected = view.range ? selectedSources() : null;
  const poses = framesToCut(traced.document, outline.id, selected).filter(
    ({ origin }) => origin !== 'by hand',
  );
  if (poses.length === 0)
    return selected ? 'No pose of the selected frames was carried.' : 'No frame is unsure.';
  const carrier = await carrierBegun();
  if (!carrier)
    return 'This part of the page could not be started. Load the page again; everything is saved.';
  const isWanted = beginRun();
  const what = 'Cutting anew';
  useCarry.setState({ under: { what, share: 0 }, says: null });
  const found: { frame: number; coordinates: number[] }[] = [];
  try {
    for (const [k, { frame, coordinates }] of poses.entries()) {
      if (!isWanted()) break;
      const strokes = strokesOf(traced.document, outline.id).filter((stroke) => stroke.frame === frame);
      const lying = { coordinates, parts: partsAt(traced.document, outline.id, frame) };
      const becomes = { as: 'pose', kind: 'loop', ...lying } as const;
      const [loop] = await carrier.subject(traced.shot.id, frame, { strokes, prior: lying, becomes });
      if (loop) found.push({ frame, coordinates: loop.coordinates });
      useCarry.setState({ under: { what, share: (k + 1) / poses.length } });
    }
    const { document } = useDocument.getState();
    const now = document?.outlines[outline.id];
    if (!document || now?.points !== outline.points) return null;
    if (found.length > 0)
      edit(
        `Cut ${outline.name} again on ${found.length === 1 ? 'a frame' : `${found.length} frames`}`,
        putSettled(document, outline.id, found),
      );
    return found.length === poses.length
      ? `Cut again on ${found.length === 1 ? 'one frame' : `${found.length} frames`}; look at them.`
      : `${found.length} of ${poses.length} frames were cut again.`;
  } catch (error) {
    return `Cutting stopped: ${sentenceOf(error)} Nothing was changed.`;
  } finally {
    useCarry.setState({ under: null });
  }
}
