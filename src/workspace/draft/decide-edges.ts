import { putMark } from '@/core/actions/layer-actions';
import { markedFrame } from '@/core/document/document';
import { longestPass } from '@/core/draft/plan-for';
import { timesOfTrace } from '@/core/draft/trace-times';
import { numbersPerPoint } from '@/core/model/choices';
import { checksBegun } from '../check/checks-store';
import { useDocument } from '../document/document-store';
import { goTo } from '../session/go-to';
import { crossingFrameIn, type Traced, tracedNow } from '../session/traced';
import { clearFrom, draw, restsOn } from '../trace/begin-for-me';
import { carryThrough, type Gathered, keepGathered } from '../trace/carry-store';
import { showView } from '../view/show';
import { setView } from '../view/view-store';

import type { Draft } from './draft';

/** Fewest poses from which on somebody has traced an outline already. */
const tracedFrom = 3;

const frames = (count: number) => `${count} ${count === 1 ? 'frame' : 'frames'}`;

export async function decideEdges(draft: Draft) {
  const traced = tracedNow();
  if (!traced) return;
  if (traced.outlines.length === 0) {
    const found = draft.found;
    if (typeof found === 'string') return draft.leaveOpen('Trace', 'No outline was begun', found);
    if (found.length === 0) return;
    const points = found.map(({ coordinates }) => coordinates.length / numbersPerPoint);
    const where = found.map(({ frame }) => crossingFrameIn(traced, frame)).join(' and ');
    draw(traced, found, (names) =>
      draft.written({
        step: 'Trace',
        what: `${names} begun on frame ${where}, ${points.join(' and ')} points`,
        basis: `${restsOn(found)[0].toUpperCase()}${restsOn(found).slice(1)}.`,
        sure: found.every(({ clear }) => clear >= clearFrom) ? 'sure' : 'likely',
      }),
    );
  }
  for (const { id } of tracedNow()?.outlines ?? []) if (draft.goesOn()) await decideCarried(draft, id);
}

/** Carries an outline both ways from its pose, unless somebody has traced it already. */
async function decideCarried(draft: Draft, outlineId: string) {
  const traced = tracedNow();
  const outline = traced?.document.outlines[outlineId];
  const poses = traced?.document.poses[outlineId] ?? [];
  const isPart = outline?.subjectId && outline.subjectId !== outlineId;
  if (!traced || !outline || outline.locked || isPart) return;
  if (poses.length === 0 || poses.length >= tracedFrom) return;
  const frame = crossingFrameIn(traced, poses[0].frame);
  draft.tell(`Carrying ${outline.name}`);
  showView('result');
  const [opens = NaN, closes = NaN] = (['opens', 'closes'] as const).map((kind) =>
    markedFrame(traced.document, kind),
  );
  // Marks that lie farther apart than anything crosses in are no end in sight.
  const ends = closes - opens <= longestPass;
  const gathered: Gathered = [];
  const said: string[] = [];
  for (const direction of [1, -1] as const) {
    setView({ outlineId, points: new Set() });
    goTo(frame);
    // Without an end in sight it goes no farther than it is sure.
    const came = await carryThrough(direction, gathered, ends);
    if (came?.startsWith('Carrying stopped') || (!ends && came?.startsWith('Not sure at'))) said.push(came!);
    if (!draft.goesOn()) break;
  }
  if (useDocument.getState().document?.outlines[outlineId] === undefined) return;
  const all = gathered.flatMap((each) => each.poses);
  if (all.length === 0)
    return draft.leaveOpen(
      'Trace',
      `${outline.name} was not carried`,
      said.join(' ') || 'The crossing shows no other frame of this shot.',
    );
  const unsure = all.filter((pose) => pose.unsure !== null).length;
  const at = all.map((pose) => crossingFrameIn(traced, pose.frame));
  const shown = timesOfTrace(
    [poses[0], ...all].sort((a, b) => a.frame - b.frame),
    traced.shot.width,
  );
  keepGathered(gathered, () =>
    draft.written({
      step: 'Trace',
      what: `${outline.name} carried over frames ${Math.min(frame, ...at)} to ${Math.max(frame, ...at)}`,
      basis: [
        `${frames(all.length)} followed, ${unsure === 0 ? 'all sure' : `${unsure} of them not sure`}.`,
        ...(unsure > all.length / 2 ? ['Begin on another frame, or draw it by hand.'] : []),
        ...said,
      ].join(' '),
      sure: unsure === 0 ? 'sure' : 'likely',
    }),
  );
  if (outline.purpose === 'any') markAnew(draft, traced, shown);
}

/** Puts the draft's own marks where the trace has shown the edge to come and go. */
function markAnew(draft: Draft, traced: Traced, { opens, closes }: ReturnType<typeof timesOfTrace>) {
  const moved = draft.marked.flatMap((mine) => {
    const now = draft.document.marks[mine.id];
    const source = mine.kind === 'opens' ? opens : closes;
    if (!now || now.frame !== mine.frame || source === null) return [];
    const frame = crossingFrameIn(traced, source);
    return frame === now.frame ? [] : [{ ...now, frame }];
  });
  if (moved.length === 0) return;
  const phrase = `${moved.map(({ kind, frame }) => `${kind} at frame ${frame}`).join(', ')}, as traced`;
  const what = phrase[0].toUpperCase() + phrase.slice(1);
  draft.decide(
    what,
    moved.map((mark) => putMark(draft.document, mark)),
    {
      step: 'Line up',
      what,
      basis: 'The traced line enters or leaves the picture there.',
      sure: 'sure',
    },
  );
}

export async function decideSoftness(draft: Draft) {
  const traced = tracedNow();
  if (!traced) return;
  const checks = await checksBegun();
  for (const outline of traced.outlines) {
    const { document } = draft;
    const poses = document.poses[outline.id] ?? [];
    const own = document.outlines[outline.id];
    const begun = poses.find(({ origin }) => origin !== 'carried');
    const isSet = own.featherInside + own.featherOutside > 0 || own.shutter > 0 || own.factors.length > 0;
    if (!begun || !checks || isSet || own.locked || (document.edges[outline.id] ?? []).length > 0) continue;
    draft.tell('Measuring the edge');
    const at = crossingFrameIn(traced, begun.frame);
    const { changes, shutter } = await checks.draftSoftness(outline.id, at);
    if (!draft.goesOn()) return;
    if (changes.length === 0) {
      draft.leaveOpen(
        'Edge',
        `${own.name} has a hard edge`,
        'The picture shows no clear edge along the line.',
      );
      continue;
    }
    draft.decide(`Match the edge of ${own.name}`, changes, {
      step: 'Edge',
      what:
        shutter === null
          ? `${own.name} as soft as the picture`
          : `${own.name} blurred with its movement, ${shutter}°`,
      basis:
        shutter === null
          ? `Measured at each point on frame ${at}.`
          : 'The picture’s edge is as wide as its movement makes it.',
      sure: 'sure',
    });
  }
}
