import type * as Comlink from 'comlink';
import { create } from 'zustand';
import { type Finding, findingsInOrder, fixLabels, isSoundFix } from '@/core/checks/findings';
import { mendSound } from '@/core/checks/sound-checks';
import type { RowChange } from '@/core/document/edit';
import type { CrossingDocument } from '@/core/document/tables';
import { sentenceOf } from '@/interface/api';
import { startWorker, told } from '@/interface/start-worker';
import type { Checks, ChecksEvent } from '@/render/checks';
import type { ChecksService } from '@/render/checks.worker';
import type { ShotMedia } from '@/wire/answers';
import { onDocumentChange, useDocument } from '../document/document-store';
import { followDocument } from '../document/follow-document';
import { useBusy } from '../session/busy';
import { firstPicture } from '../view/first-picture';
import { useSound } from '../session/sound-store';
import { setView, useView } from '../view/view-store';
import { edit } from '../session/edit';

interface ChecksState {
  findings: Finding[];
  /** Outlines whose edge the picture does not show clearly enough to judge. */
  unjudged: string[];
  /** How much has been looked at since the last change, 0 to 1; null before the first look. */
  share: number | null;
  failure: string | null;
}

export const useChecks = create<ChecksState>(() => ({
  findings: [],
  unjudged: [],
  share: null,
  failure: null,
}));

/** What the pictures' checks and the sound's have found; `findings` are both. */
let ofPictures: Finding[] = [];
let ofSound: Finding[] = [];

/** Takes over what is wrong with the sound. */
function takeSoundFindings(findings: Finding[]) {
  if (JSON.stringify(findings) === JSON.stringify(ofSound)) return;
  ofSound = findings;
  useChecks.setState({ findings: findingsInOrder([...ofPictures, ...ofSound]) });
}

/** ms after a step in which the checks leave the machine to the picture. */
const stepRest = 600;

/** Rest of a hand, ms, before the checks look again. */
const settle = 700;
/** The same, ms, after a crossing was opened: the first pictures and the sheet come first. */
const settleAtFirst = 2500;

let service: Comlink.Remote<Checks> | null = null;
let beginning: Promise<unknown> = Promise.resolve();

/** Lets the checks look at a crossing whenever it changes; returns what ends that. */
export function startChecks(document: CrossingDocument, media: ShotMedia[]): () => void {
  [ofPictures, ofSound] = [[], []];
  useChecks.setState({ findings: [], unjudged: [], share: null, failure: null });
  let timer: ReturnType<typeof setTimeout> | undefined;
  let ended = false;
  let end = () => {};
  const fail = (error: unknown) => !ended && useChecks.setState({ failure: sentenceOf(error) });
  const tell = told(({ findings, share, unjudged }: ChecksEvent) => {
    if (ended) return;
    // The same findings again are no change: nothing that shows them is drawn anew.
    const same = JSON.stringify(ofPictures) === JSON.stringify(findings);
    // Half-way only what needs no picture is known: what was found before stands until the end.
    const news = (share === 1 || ofPictures.length === 0) && !same;
    if (news) ofPictures = findings;
    useChecks.setState({
      share,
      ...(share === 1 ? { unjudged } : {}),
      ...(news ? { findings: findingsInOrder([...ofPictures, ...ofSound]) } : {}),
    });
  });
  const begin = async () => {
    await firstPicture();
    // Where the crossing was left meanwhile nothing begins, and nothing is answered.
    if (ended) return new Promise<never>(() => {});
    const running = startWorker<ChecksService>(
      new Worker(new URL('../../render/checks.worker.ts', import.meta.url), { type: 'module' }),
    );
    end = running.end;
    return running.service.open(document, media, tell);
  };
  const opened = begin();
  // What is asked while the worker still begins is asked of it once it has, in order.
  const begun = () => opened.then((checks) => checks as unknown as Comlink.Remote<Checks>);
  const ask = (what: (checks: Comlink.Remote<Checks>) => unknown) =>
    void begun()
      .then((checks) => (ended ? undefined : what(checks)))
      .catch(fail);
  const lookSoon = (rest = settle) => {
    clearTimeout(timer);
    timer = setTimeout(() => ask((checks) => checks.inspect()), rest);
  };
  beginning = opened
    .then((checks) => {
      if (ended) return;
      service = checks as unknown as Comlink.Remote<Checks>;
      lookSoon(settleAtFirst);
    })
    .catch(fail);
  const stopFollowing = followDocument(
    {
      change: (changes) => begun().then((checks) => checks.change(changes)),
      replaceDocument: (whole) => begun().then((checks) => checks.replaceDocument(whole)),
    },
    fail,
  );
  const stopLooks = onDocumentChange(() => lookSoon());
  let stepping = false;
  let stepped: ReturnType<typeof setTimeout> | undefined;
  let paused = false;
  const standAside = () => {
    const { playing, draft } = useView.getState();
    const { exporting } = useBusy.getState();
    const busy = playing || draft !== null || stepping || exporting;
    if (busy === paused) return;
    paused = busy;
    ask((checks) => checks.pause(busy));
  };
  const stopView = useView.subscribe((now, before) => {
    if (now.frame !== before.frame) {
      stepping = true;
      clearTimeout(stepped);
      stepped = setTimeout(() => {
        stepping = false;
        standAside();
      }, stepRest);
    }
    standAside();
  });
  const stopExports = useBusy.subscribe(standAside);
  const stopSound = useSound.subscribe((now, before) => {
    if (now.findings !== before.findings) takeSoundFindings([...now.findings]);
  });
  const stopShots = useDocument.subscribe((now, before) => {
    if (now.shots === before.shots) return;
    for (const media of now.shots) if (!before.shots.includes(media)) ask((checks) => checks.takeShot(media));
    lookSoon();
  });
  return () => {
    ended = true;
    clearTimeout(timer);
    clearTimeout(stepped);
    stopFollowing();
    stopLooks();
    stopView();
    stopShots();
    stopSound();
    stopExports();
    service = null;
    end();
  };
}

/** The worker that looks, as soon as it has begun; null when it did not. */
export async function checksBegun(): Promise<Comlink.Remote<Checks> | null> {
  await beginning;
  return service;
}

/** The worker that looks, if it has begun. */
export function checksNow(): Comlink.Remote<Checks> | null {
  return service;
}

function mendedSound(finding: Finding): RowChange[] {
  const { document } = useDocument.getState();
  const { heard } = useSound.getState();
  return document && heard ? mendSound(document, finding, heard) : [];
}

/** Mends a finding as its button says; returns a sentence when it could not. */
export async function mend(finding: Finding): Promise<string | null> {
  const { fix } = finding;
  if (!service || !fix) return null;
  try {
    const changes = isSoundFix(fix) ? mendedSound(finding) : await service.mend(finding);
    if (changes.length === 0) return 'Kiv could not mend this; go there and move the line by hand.';
    if (!edit(`${fixLabels[fix]}, frame ${finding.worst}`, changes)) return null;
    // What was mended is gone at once; the next look says what is left.
    ofPictures = ofPictures.filter((each) => each !== finding);
    ofSound = ofSound.filter((each) => each !== finding);
    useChecks.setState({ findings: findingsInOrder([...ofPictures, ...ofSound]) });
    return null;
  } catch (error) {
    return sentenceOf(error);
  }
}

const matchedWhere = { keyed: 'keyed at every pose', 'at points': 'at each point' };

/** Gives the outline's edge the picture's softness: on this frame, keyed at every pose, or at each point. */
export async function matchEdge(
  outlineId: string,
  where: 'here' | 'keyed' | 'at points',
): Promise<string | null> {
  if (!service) return 'The checks have not begun yet.';
  const { frame } = useView.getState();
  try {
    const changes =
      where === 'at points'
        ? await service.matchPoints(outlineId, frame)
        : await service.match(outlineId, frame, where === 'keyed');
    if (changes.length === 0)
      return 'The picture shows no clear edge along the line here. Put the line on the edge first.';
    edit(`Match the edge, ${where === 'here' ? `frame ${frame}` : matchedWhere[where]}`, changes);
    setView({ draft: null });
    return null;
  } catch (error) {
    return sentenceOf(error);
  }
}
