import type * as Comlink from 'comlink';
import { create } from 'zustand';
import type { CarriedPose, CarryEnd, CarryJob } from '@/core/carry/carry-poses';
import { nextByHand, putSettled, unsurePoses } from '@/core/actions/carry-actions';
import { applyChanges, playedRange, poseAtFrame } from '@/core/document/document';
import type { RowChange } from '@/core/document/edit';
import type { OutlineRow, PoseRow } from '@/core/document/tables';
import { type Doubt, numbersPerPoint as N } from '@/core/model/choices';
import { takeAt } from '@/core/motion/cuts';
import { startingCoordinates } from '@/core/outline';
import { leastInPicture, shareInPicture } from '@/core/outline/share-in-picture';
import type { SubjectPose } from '@/core/subject/carry-subject';
import { sentenceOf } from '@/interface/api';
import { startWorker, told } from '@/interface/start-worker';
import type { Carrier } from '@/render/carry';
import type { CarryService } from '@/render/carry.worker';
import { useDocument } from '../document/document-store';
import { firstPicture } from '../view/first-picture';
import { setView, useView } from '../view/view-store';
import { selectedSources } from '../session/scope';
import { goTo, goToSource } from '../session/go-to';
import { edit, onOwnEdit } from '../session/edit';
import { current, lockedNow } from '../session/in-hand';
import { carriedBy, fitting, lineOn, putCarriedAll } from './carried-by';
import { crossingFrameIn, sourceFrameOf, type Traced } from '../session/traced';
import { measureForCutting, measuringMovement } from './movement';

interface CarryState {
  /** What is under way, in words, and how much of it is done, 0 to 1. */
  under: { what: string; share: number } | null;
  /** Whether it is carried again by itself after a correction. */
  again: boolean;
  /** What came of the last carrying; null: nothing to say. */
  says: string | null;
}

export const useCarry = create<CarryState>(() => ({ under: null, again: true, says: null }));

export const doubtSays: Record<Doubt, string> = {
  covered: 'something may cover the edge',
  soft: 'the edge is too soft to tell',
  alike: 'it looks like what lies behind',
  leap: 'its place or shape changed more than expected',
  'ends differ': 'forwards and backwards disagree',
};

/** ms after a correction in which nothing more happens, before it is carried again. */
const rest = 900;

/** ms between two carried frames that are shown: showing them takes from what carries. */
const showsEvery = 400;
/** ms that the picture of a carried frame is waited for before the next is gone to. */
const patience = 1000;

let carrier: Comlink.Remote<Carrier> | null = null;
let beginning: Promise<unknown> = Promise.resolve();
let wanted = 0;
let stopped = 0;

/** Lets poses be carried in a crossing; returns what ends that. */
export function startCarrying(): () => void {
  useCarry.setState({ under: null, says: null });
  let ended = false;
  let end = () => {};
  const fail = (error: unknown) => {
    if (!ended) useCarry.setState({ under: null, says: `Carrying stopped: ${sentenceOf(error)}` });
  };
  const begin = async () => {
    await firstPicture();
    if (ended) return;
    const running = startWorker<CarryService>(
      new Worker(new URL('../../render/carry.worker.ts', import.meta.url), { type: 'module' }),
    );
    end = running.end;
    running.failed.catch(fail);
    const begun = await running.service.open(useDocument.getState().shots);
    if (!ended) carrier = begun as unknown as Comlink.Remote<Carrier>;
  };
  beginning = begin().catch(fail);
  const stopShots = useDocument.subscribe((now, before) => {
    if (now.shots === before.shots) return;
    for (const each of now.shots) if (!before.shots.includes(each)) void carrier?.takeShot(each).catch(fail);
  });
  let timer: ReturnType<typeof setTimeout> | undefined;
  const stopEdits = onOwnEdit((changes) => {
    const corrected = correctionIn(changes);
    if (!corrected || !useCarry.getState().again) return;
    clearTimeout(timer);
    timer = setTimeout(() => void carryAgain(corrected.outlineId, corrected.frame), rest);
  });
  return () => {
    ended = true;
    clearTimeout(timer);
    stopShots();
    stopEdits();
    carrier = null;
    wanted++;
    end();
  };
}

/** The pose by hand that took a carried one's place, if these changes are that. */
function correctionIn(changes: readonly RowChange[]): PoseRow | null {
  const poses = changes.flatMap((change) =>
    change.table === 'pose' ? [{ before: change.before, after: change.after }] : [],
  );
  // A subject's further parts and holes are corrected with it, after it.
  const frames = new Set(poses.map(({ before, after }) => (after ?? before)?.frame));
  if (frames.size !== 1) return null;
  const [{ before, after }] = poses;
  return after && after.origin !== 'carried' && before?.origin === 'carried' ? after : null;
}

/** What is under way, as a sentence for whoever wants something else meanwhile; null: nothing is. */
export function busyNow(): string | null {
  const { under } = useCarry.getState();
  return under && `${under.what} is still under way; Esc stops it.`;
}

/** Begins something that Esc ends; returns whether it is still wanted. */
export function beginRun(): () => boolean {
  const mine = ++wanted;
  return () => mine === wanted;
}

/** How often a person has stopped carrying. */
export function timesStopped(): number {
  return stopped;
}

export function stopCarrying() {
  stopped++;
  wanted++;
  void carrier?.stop();
}

/** Takes the pose on this frame to the next or the one before, and goes there. */
export function carryOne(direction: 1 | -1): Promise<string | null> {
  return carry(direction, 1, false);
}

/** What has been carried of several outlines, to become one edit; an outline may be there twice. */
export type Gathered = { outlineId: string; poses: readonly (CarriedPose | SubjectPose)[] }[];

/**
 * Takes the pose on this frame on, up to the next one by hand, as far as it can be trusted, or to the end.
 *
 * @param gathered takes the poses in place of an edit; {@link keepGathered} makes that.
 */
export function carryOn(direction: 1 | -1, gathered?: Gathered): Promise<string | null> {
  return carry(direction, Infinity, true, gathered);
}

/** Frames that are carried where nobody knows when the edge leaves. */
const withoutEnd = 125;

/**
 * The same to where the edge leaves the picture, on through frames on which it is not sure: they are flagged, to be put right.
 *
 * @param ends whether it is known when it leaves; else it goes some frames, and no farther than it can be trusted.
 */
export function carryThrough(direction: 1 | -1, gathered: Gathered, ends: boolean): Promise<string | null> {
  return carry(direction, ends ? Infinity : withoutEnd, !ends, gathered);
}

/**
 * Keeps what was carried of several outlines, as one edit; what changed meanwhile counts.
 *
 * @param further changes that go into the same edit.
 */
export function keepGathered(
  gathered: Gathered,
  further: (kept: Gathered) => readonly RowChange[] = () => [],
) {
  const { traced } = current();
  const { document } = useDocument.getState();
  if (!traced || !document) return;
  const put = gathered
    .filter(({ outlineId }) => document.outlines[outlineId])
    .map(({ outlineId, poses }) => ({ outlineId, poses: fitting(document, outlineId, poses) }))
    .filter(({ poses }) => poses.length > 0);
  if (put.length === 0) return;
  let now = document;
  const made = put.map(({ outlineId, poses }) => {
    const changes = putCarriedAll(now, outlineId, poses);
    now = applyChanges(now, changes);
    return changes;
  });
  const phrase = framesPhrase(
    traced,
    put.flatMap(({ poses }) => poses),
  );
  const count = new Set(put.map(({ outlineId }) => outlineId)).size;
  const several = count === 1 ? 'an outline' : `${count} outlines`;
  if (edit(`Carry ${several}, ${phrase}`, [...made.flat(), ...further(put)])) return;
  // More than one step takes: then each is one.
  useDocument.setState({ notice: null });
  made.forEach((changes, k) => edit(`Carry ${document.outlines[put[k].outlineId].name}`, changes));
}

interface Going {
  traced: Traced;
  outline: OutlineRow;
  poses: readonly PoseRow[];
  source: number;
}

/** What is carried from here, or a sentence why nothing is. */
function going(): Going | string {
  const { traced, outline, source } = current();
  if (!traced || !outline) return 'Draw an outline first; then it can be carried.';
  const locked = lockedNow();
  if (locked) return locked;
  return { traced, outline, poses: traced.document.poses[outline.id] ?? [], source };
}

/** The same for the whole subject where one of its further parts or holes is in hand: they go along with it. */
function goingWhole(): Going | string {
  const here = going();
  if (typeof here === 'string') return here;
  const { traced, outline, source } = here;
  const subject = outline.subjectId && traced.document.outlines[outline.subjectId];
  if (!subject) return here;
  if (subject.locked) return `${subject.name} is locked. Unlock it in Trace.`;
  return { traced, outline: subject, poses: traced.document.poses[subject.id] ?? [], source };
}

async function carry(
  direction: 1 | -1,
  steps: number,
  stops: boolean,
  gathered?: Gathered,
): Promise<string | null> {
  const busy = busyNow();
  if (busy) return busy;
  const here = goingWhole();
  if (typeof here === 'string') return here;
  const { traced, outline, poses, source } = here;
  const coordinates = lineOn(poses, source);
  if (!coordinates) {
    const nearest = poses[source < (poses[0]?.frame ?? 0) ? 0 : poses.length - 1];
    if (!nearest) return 'Draw the line on this frame first; then it can be carried.';
    goToSource(traced, nearest.frame);
    return 'There was no line on that frame. This is the nearest pose: carry from here.';
  }
  const [low, high] = shownSources(traced);
  // Another take shows something else.
  const [from, until] = takeAt(traced.shot, source);
  const inTake = direction > 0 ? until - source : source - from;
  const room = Math.min(inTake, direction > 0 ? high - source : source - low);
  if (inTake < 1)
    return 'The picture changes here: there is a cut in the footage. Draw the line again on the next take.';
  if (room < 1)
    return `The crossing shows no frame of this shot ${direction > 0 ? 'after' : 'before'} this one.`;
  const next = nextByHand(poses, source, direction);
  const between = next !== null && Math.abs(next.frame - source) <= room ? next : null;
  if (between && Math.abs(between.frame - source) === 1) {
    goToSource(traced, between.frame);
    return 'The pose on this frame was made by hand, and stays.';
  }
  const most = Math.min(steps, room, between && steps === 1 ? 1 : Infinity);
  const to = between && steps > 1 ? { frame: between.frame, coordinates: between.coordinates } : null;
  return run(
    direction > 0 ? 'Carrying on' : 'Carrying back',
    traced,
    outline,
    { from: { frame: source, coordinates }, to, direction, most, stops },
    true,
    gathered,
  );
}

/** Carries again about a pose that was corrected: to the next ones by hand, or as far as it was carried before. */
async function carryAgain(outlineId: string, frame: number): Promise<void> {
  if (useCarry.getState().under || useView.getState().draft) return;
  for (const direction of [-1, 1] as const) {
    const { traced } = current();
    const outline = traced?.document.outlines[outlineId];
    const poses = traced?.document.poses[outlineId] ?? [];
    const own = traced && poseAtFrame(traced.document, outlineId, frame);
    if (!traced || !outline || outline.locked || !own || own.origin === 'carried') return;
    // Where it only comes in, the frames beside it are known better from where it is seen.
    if (shareInPicture(own.coordinates, outline.kind === 'loop', traced.shot) < leastInPicture) return;
    const next = nextByHand(poses, frame, direction);
    const carried = poses.filter(
      (pose) =>
        pose.origin === 'carried' &&
        (direction > 0 ? pose.frame > frame : pose.frame < frame) &&
        (!next || (direction > 0 ? pose.frame < next.frame : pose.frame > next.frame)),
    );
    if (carried.length === 0) continue;
    const farthest = direction > 0 ? carried[carried.length - 1].frame : carried[0].frame;
    const said = await run(
      'Carrying again',
      traced,
      outline,
      {
        from: { frame, coordinates: own.coordinates },
        to: next && { frame: next.frame, coordinates: next.coordinates },
        direction,
        most: Math.abs(farthest - frame),
        stops: false,
      },
      false,
    );
    if (said) useCarry.setState({ says: said });
  }
}

/** @param follows whether the picture goes along. @param gathered takes the poses in place of an edit. */
async function run(
  what: string,
  traced: Traced,
  outline: OutlineRow,
  way: Omit<CarryJob, 'outline'>,
  follows: boolean,
  gathered?: Gathered,
): Promise<string | null> {
  const isWanted = beginRun();
  const begunOn = traced.document.crossing.id;
  useCarry.setState({ under: { what, share: 0 }, says: null });
  setView({ playing: false });
  // What was carried of others before is seen along.
  const others: RowChange[] = (gathered ?? []).flatMap((other) =>
    putCarriedAll(traced.document, other.outlineId, other.poses),
  );
  const soFar: (CarriedPose | SubjectPose)[] = [];
  let went = 0;
  const hear = told((pose: CarriedPose | SubjectPose | null, share: number) => {
    if (!isWanted()) return;
    useCarry.setState({ under: { what, share: Math.min(1, share) } });
    if (!pose || !follows) return;
    soFar.push(pose);
    // Frames that come sooner than the picture can follow are passed over: they would only hold up the others.
    const { frame, shown } = useView.getState();
    const since = performance.now() - went;
    if (since < showsEvery || (shown?.frame !== frame && since < patience)) return;
    went = performance.now();
    goTo(crossingFrameIn(traced, pose.frame));
    setView({ draft: [...others, ...putCarriedAll(traced.document, outline.id, soFar)] });
  });
  try {
    await beginning;
    if (!carrier) return 'Carrying could not be started. Load the page again; everything is saved.';
    if (outline.carriedBy === 'cutting')
      await measureForCutting(traced.shot, isWanted, (share) =>
        useCarry.setState({ under: { what: measuringMovement, share } }),
      );
    if (!isWanted()) return 'Stopped; nothing was changed.';
    const { poses, end, blind = null } = await carriedBy(carrier, traced, outline, way, hear);
    const { document } = useDocument.getState();
    if (document?.crossing.id !== begunOn || !document.outlines[outline.id]) return null;
    // What changed meanwhile counts: nothing is put over a pose by hand.
    const put = fitting(document, outline.id, poses);
    const made = putCarriedAll(document, outline.id, put);
    if (useView.getState().draft && follows) setView({ draft: null });
    gathered?.push({ outlineId: outline.id, poses: put });
    if (made.length > 0 && !gathered)
      edit(`${what.replace('Carrying', 'Carry')} ${outline.name}, ${framesPhrase(traced, put)}`, made);
    const last = put[put.length - 1];
    if (follows && last && !way.to) goTo(crossingFrameIn(traced, last.frame));
    return withBlind(sayOf(traced, put, end), blind);
  } catch (error) {
    return `Carrying stopped: ${sentenceOf(error)} Nothing was changed.`;
  } finally {
    useCarry.setState({ under: null });
    if (follows && useView.getState().draft) setView({ draft: null });
  }
}

let blindSaid = false;

/** Adds once that people cannot be looked for here. */
function withBlind(says: string | null, blind: string | null): string | null {
  if (blind === null || blindSaid) return says;
  blindSaid = true;
  return says === null ? blind : `${says} ${blind}`;
}

function framesPhrase(traced: Traced, poses: readonly CarriedPose[]): string {
  const frames = poses.map(({ frame }) => crossingFrameIn(traced, frame));
  const [low, high] = [Math.min(...frames), Math.max(...frames)];
  return low === high ? `frame ${low}` : `frames ${low} to ${high}`;
}

function sayOf(traced: Traced, poses: readonly CarriedPose[], end: CarryEnd): string | null {
  const last = poses[poses.length - 1];
  const atCut =
    last !== undefined &&
    takeAt(traced.shot, last.frame).includes(last.frame) &&
    !isAtEnd(traced, last.frame);
  const unsure = poses.filter(({ unsure }) => unsure !== null).length;
  switch (end) {
    case 'stopped':
      return poses.length > 0
        ? `Stopped; ${poses.length === 1 ? 'the frame done is' : `the ${poses.length} frames done are`} kept.`
        : 'Stopped; nothing was changed.';
    case 'left':
      return 'The edge has left the picture here.';
    case 'shot ends':
      return poses.length > 0 ? 'The shot ends here.' : 'There is no further frame.';
    case 'unsure':
      return `Not sure at frame ${crossingFrameIn(traced, last.frame)}: ${doubtSays[last.unsure!]}. Put it right and carry on.`;
    case 'done':
      if (poses.length < 2) return last?.unsure ? `Not sure: ${doubtSays[last.unsure]}.` : null;
      return `${
        unsure === 0
          ? `${poses.length} frames carried, all sure.`
          : `${poses.length} frames carried, ${unsure} not sure. Shift J goes to the worst.`
      }${atCut ? ' The picture changes there: a cut in the footage.' : ''}`;
  }
}

/** Whether a frame is the shot's first or last. */
const isAtEnd = ({ shot }: Traced, frame: number) => frame === 0 || frame === shot.frameCount - 1;

/** Source frames that the crossing shows of the traced shot, from its in to its out. */
export function shownSources(traced: Traced): [low: number, high: number] {
  const [first, last] = playedRange(traced.document);
  const ends = [sourceFrameOf(traced, first), sourceFrameOf(traced, last)];
  const most = traced.shot.frameCount - 1;
  return [Math.max(0, Math.min(...ends)), Math.min(most, Math.max(...ends))];
}

/** The worker that follows edges, as soon as it has begun; null when it did not. */
export async function carrierBegun(): Promise<Comlink.Remote<Carrier> | null> {
  await beginning;
  return carrier;
}

/** The same without waiting; null while it has not begun. */
export function carrierNow(): Comlink.Remote<Carrier> | null {
  return carrier;
}

/** Goes to the unsure frame that is likeliest off; from there to the next one down. */
export function nextUnsure(): string | null {
  const { traced, outline, source } = current();
  if (!traced || !outline) return 'There is no outline yet. Draw one first.';
  const list = unsurePoses(traced.document.poses[outline.id] ?? []);
  if (list.length === 0) return 'No frame is unsure.';
  const at = list.findIndex(({ frame }) => frame === source);
  goToSource(traced, list[(at + 1) % list.length].frame);
  setView({ playing: false });
  return null;
}

/** Pulls the pose here, or those on the selected frames, or only the selected points, onto the moving edge. */
export async function settle(): Promise<string | null> {
  const busy = busyNow();
  if (busy) return busy;
  const here = going();
  if (typeof here === 'string') return here;
  const { traced, outline, poses, source } = here;
  const { range, points } = useView.getState();
  const takes = range ? selectedSources() : (frame: number) => frame === source;
  const own = poses
    .filter(({ frame }) => takes(frame))
    .map(({ frame, coordinates }) => ({ frame, coordinates }));
  const start = startingCoordinates(poses, source);
  const asked = own.length > 0 || range ? own : start ? [{ frame: source, coordinates: start }] : [];
  if (asked.length === 0) return 'There is no pose here to settle. Draw the line on this frame first.';
  useCarry.setState({ under: { what: 'Settling', share: 0 }, says: null });
  try {
    await beginning;
    if (!carrier) return 'Settling could not be started. Load the page again; everything is saved.';
    const hear = told((share: number) => useCarry.setState({ under: { what: 'Settling', share } }));
    const results = await carrier.settle(
      traced.shot.id,
      { kind: outline.kind, sweptSide: outline.sweptSide },
      asked,
      hear,
    );
    const found = results.flatMap((coordinates, k) =>
      coordinates
        ? [{ frame: asked[k].frame, coordinates: onlyPoints(asked[k].coordinates, coordinates, points) }]
        : [],
    );
    const { document } = useDocument.getState();
    if (!document?.outlines[outline.id]) return null;
    if (found.length > 0)
      edit(
        found.length === 1 ? `Settle ${outline.name}` : `Settle ${outline.name} on ${found.length} frames`,
        putSettled(document, outline.id, found),
      );
    if (results.length < asked.length)
      return `Stopped; ${results.length} of ${asked.length} frames were looked at.`;
    const none = asked.length - found.length;
    if (none === 0) return null;
    return asked.length === 1
      ? 'The picture shows no moving edge here, or too little of it. Nothing was moved.'
      : `On ${none} of ${asked.length} frames the picture shows no moving edge; those were left.`;
  } catch (error) {
    return `Settling stopped: ${sentenceOf(error)} Nothing was changed.`;
  } finally {
    useCarry.setState({ under: null });
  }
}

/** The new coordinates for the selected points, or for all if none is. */
function onlyPoints(
  before: readonly number[],
  after: readonly number[],
  points: ReadonlySet<number>,
): number[] {
  if (points.size === 0) return after.slice();
  return before.map((value, i) => (points.has(Math.floor(i / N)) ? after[i] : value));
}
