import { create } from 'zustand';
import { drawSubject } from '@/core/actions/subject-actions';
import { layoutOf, nextOutline } from '@/core/document/plans';
import { numbersPerPoint, type Side } from '@/core/model/choices';
import { personAt, type PersonOutlines, sideOf, sweptSideOf } from '@/core/subject/person-outlines';
import type { SubjectLoop } from '@/core/subject/subject-outline';
import { sentenceOf } from '@/interface/api';
import { told } from '@/interface/start-worker';
import { takeTool } from '../view/show';
import { setView } from '../view/view-store';
import { beginRun, busyNow, carrierBegun, stopCarrying, useCarry } from './carry-store';
import { measureForCutting, measuringMovement } from './movement';
import { edit } from '../session/edit';
import { current, framePhrase } from '../session/in-hand';
import { type Traced, tracedNow } from '../session/traced';

/** What a person who is taken becomes. */
export const personAs = ['trailing', 'leading', 'loop'] as const;

export type PersonAs = (typeof personAs)[number];

/** The people that were found on a frame of a layer's shot. */
interface Found {
  layerId: string;
  /** Source frame. */
  source: number;
  people: readonly PersonOutlines[];
}

interface PeopleState {
  found: Found | null;
  /** The one that is pointed at, by index. */
  pointed: number | null;
  /** What they become; null: what the plan wants. */
  becomes: PersonAs | null;
  /** What came of the last search or press; null: nothing to say. */
  says: string | null;
}

export const usePeople = create<PeopleState>(() => ({
  found: null,
  pointed: null,
  becomes: null,
  says: null,
}));

const set = usePeople.setState;

/** Takes the tool in hand, and looks for the people on the frame on screen. */
export async function findPeople(): Promise<string | null> {
  const { traced, source } = current();
  if (!traced) return 'Choose an outgoing shot first.';
  const what = 'Looking for people';
  const isUnder = () => [what, measuringMovement].includes(useCarry.getState().under?.what ?? '');
  const busy = busyNow();
  // Pressed twice, it goes on.
  if (busy) return isUnder() ? null : busy;
  takeTool('people');
  set({ found: null, pointed: null, says: null });
  const isWanted = beginRun();
  useCarry.setState({ under: { what, share: 0 }, says: null });
  try {
    const carrier = await carrierBegun();
    if (!carrier)
      return 'This part of the page could not be started. Load the page again; everything is saved.';
    const layerId = traced.layer.id;
    await measureForCutting(traced.shot, isWanted, (share) =>
      useCarry.setState({ under: { what: measuringMovement, share } }),
    );
    if (!isWanted() || tracedNow()?.layer.id !== layerId) return null;
    useCarry.setState({ under: { what, share: 0 } });
    const hear = told((share: number, soFar: PersonOutlines[]) => {
      if (!isWanted()) return;
      useCarry.setState({ under: { what, share } });
      // Those found so far may be taken while others are looked for.
      const { found } = usePeople.getState();
      if (soFar.length > (found?.people.length ?? 0)) set({ found: { layerId, source, people: soFar } });
    });
    const people = await carrier.findPeople(traced.shot.id, source, hear);
    if (!people || !isWanted() || tracedNow()?.layer.id !== layerId) return null;
    set({
      found: { layerId, source, people },
      says:
        people.length > 0
          ? null
          : 'No one was found on this frame. Try a frame where the person is in full view, or paint over them (Ctrl B).',
    });
  } catch (error) {
    set({ says: sentenceOf(error) });
  } finally {
    // Something else may be under way by now.
    if (isUnder()) useCarry.setState({ under: null });
  }
  return null;
}

/** The people found on a frame; null where none were looked for there. */
export function foundOn(
  found: Found | null,
  layerId: string,
  source: number,
): readonly PersonOutlines[] | null {
  return found?.layerId === layerId && found.source === source ? found.people : null;
}

/** What a person becomes: as chosen, or else what the plan wants next. */
export function becomesNow(traced: Traced, chosen: PersonAs | null): PersonAs {
  if (chosen) return chosen;
  const { purpose } = nextOutline(traced.document, traced.layer.id);
  const edges = layoutOf(traced.document.crossing.plan).edges;
  const edge = edges.find((each) => each.purpose === purpose);
  return edge && edge.on !== 'gap' ? edge.on : 'loop';
}

/** The lines that a person would become, and what a seam among them sweeps. */
export function outlinesOf(
  person: PersonOutlines,
  as: PersonAs,
): { loops: readonly SubjectLoop[]; sweptSide: Side } {
  if (as === 'loop') return { loops: person.loops, sweptSide: 'right' };
  const side = sideOf(person, as);
  return { loops: [{ coordinates: person.seams[side], hole: false }], sweptSide: sweptSideOf(side, as) };
}

/** A press in the picture takes the person there. @param more whether the tool stays in hand for others. */
export function pressPerson(place: readonly [number, number], more: boolean) {
  const { traced, source } = current();
  const people = traced && foundOn(usePeople.getState().found, traced.layer.id, source);
  if (!people) return;
  const index = personAt(people, place);
  if (index === null)
    set({
      says: 'No one was found there. Press a person with a dashed outline, or paint over them (Ctrl B).',
    });
  else takePerson(index, more);
}

/** Makes an outline of a person who was found, as one edit. */
export function takePerson(index: number, more = false) {
  const { traced, source } = current();
  const { found, becomes } = usePeople.getState();
  const person = traced && foundOn(found, traced.layer.id, source)?.[index];
  if (!traced || !person) return;
  const { document, layer, outlines } = traced;
  const newId = () => crypto.randomUUID();
  const as = becomesNow(traced, becomes);
  const { loops, sweptSide } = outlinesOf(person, as);
  const planned = nextOutline(document, layer.id);
  const number = 1 + outlines.filter(({ name }) => name.startsWith('Person')).length;
  // What is still looked for is not wanted any more.
  if (!more && useCarry.getState().under) {
    stopCarrying();
    useCarry.setState({ under: null });
  }
  const subject = {
    id: newId(),
    layerId: layer.id,
    cutsLayerId: planned.cutsLayerId,
    purpose: planned.purpose,
    name: planned.name ?? `Person ${number}`,
    kind: as === 'loop' ? ('loop' as const) : ('seam' as const),
    sweptSide,
    painted: false,
    // A coat's edge is followed better than it is cut out; legs are not.
    carriedBy: as === 'loop' || person.whole ? ('cutting' as const) : ('edge' as const),
  };
  if (!edit(`Take ${subject.name}, ${framePhrase()}`, drawSubject(document, subject, source, loops, newId)))
    return;
  setView({
    outlineId: subject.id,
    points: new Set(),
    sideNote: null,
    ...(more ? {} : { tool: 'edit' as const }),
  });
  const many = loops.reduce((sum, { coordinates }) => sum + coordinates.length / numbersPerPoint, 0);
  set({
    pointed: null,
    says: `${subject.name} taken with ${many} points.`,
  });
}

/** Enter takes the person pointed at, or the only one. */
export function takePointed(): string | null {
  const { traced, source } = current();
  const { found, pointed } = usePeople.getState();
  const people = traced && foundOn(found, traced.layer.id, source);
  if (!people || people.length === 0) return 'No one was found on this frame.';
  const index = pointed ?? (people.length === 1 ? 0 : null);
  if (index === null) return 'Point at a person first, then press Enter.';
  takePerson(index);
  return null;
}
