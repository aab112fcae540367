import type { Combine, Ends, Plan, Purpose, Role } from '../model/choices';
import { assertNever } from '../model/assert-never';
import { type CrossingDocument, type LayerRow, plainLayer } from './tables';

/**
 * What a first outline lies on: the edge behind which ground is laid bare, the one before which it is covered, or what
 * opens.
 */
export type FirstOn = 'trailing' | 'leading' | 'gap';

/** An edge that a plan wants traced on its traced layer. */
export interface PlanEdge {
  purpose: Purpose;
  /** What movement alone can find it by. */
  on: FirstOn;
  /** The role of the layer that it cuts; null: the one that it is traced on. */
  cuts: Role | null;
}

/** What a plan sets up, and what is expected of it. */
export interface PlanLayout {
  /** What happens in it, in one sentence. */
  says: string;
  /** Layers from the bottom up; one that keeps shows what its outlines enclose. */
  layers: readonly { role: Role; keeps?: true }[];
  /** The role of the shot that is traced. */
  traced: Role;
  /** What cuts: outlines, or a colour that is keyed. */
  cutsBy: 'outlines' | 'colour';
  /** The edges that it wants, in the order in which they are drawn; none where movement alone does not tell. */
  edges: readonly PlanEdge[];
  /** What Kiv finds by itself at the beginning, as a part of a sentence; null: nothing. */
  found: string | null;
  /** What its edge does in the end: fills the frame, stays an opening, or is where something else happens. */
  until: 'fills' | 'opens' | 'stays';
  /** What an outline that adds is before its first pose and after its last, unless told otherwise. */
  ends: Ends;
  /** Whether its loops are leaves that swing. */
  swings: boolean;
  /** What is judged: whether coverage grows to the whole, and whether the lowest layer fills the frame. */
  judged: { coverage: boolean; border: boolean };
}

const judged = { coverage: true, border: true };
/** Of what sweeps the picture nothing is cut before it comes, and all once it has gone. */
const swept: Ends = { beforeFirst: 'empty', afterLast: 'full' };
/** What has opened stays open. */
const opened: Ends = { beforeFirst: 'empty', afterLast: 'hold' };
const plain = { cutsBy: 'outlines', swings: false, judged, ends: swept } as const;

/** Every plan; what Kiv does differently from plan to plan is told by these alone. */
export const plans: Readonly<Record<Plan, PlanLayout>> = {
  'pass-by': {
    ...plain,
    says: 'Something moves through the outgoing shot; the incoming one appears behind it.',
    layers: [{ role: 'incoming' }, { role: 'outgoing' }],
    traced: 'outgoing',
    edges: [{ purpose: 'any', on: 'trailing', cuts: null }],
    found: 'find the trailing edge',
    until: 'fills',
  },
  arrival: {
    ...plain,
    says: 'Something moves through the incoming shot and brings it in behind itself.',
    layers: [{ role: 'outgoing' }, { role: 'incoming', keeps: true }],
    traced: 'incoming',
    edges: [{ purpose: 'any', on: 'leading', cuts: null }],
    found: 'find the leading edge',
    until: 'fills',
  },
  bridge: {
    ...plain,
    says: 'Something in a third shot passes: its front edge covers the outgoing shot, its back edge uncovers the incoming one.',
    layers: [{ role: 'incoming' }, { role: 'passing' }, { role: 'outgoing' }],
    traced: 'passing',
    edges: [
      { purpose: 'front edge', on: 'leading', cuts: 'outgoing' },
      { purpose: 'back edge', on: 'trailing', cuts: null },
    ],
    found: 'find the front edge and the back edge',
    until: 'fills',
  },
  opening: {
    ...plain,
    says: 'A gap opens in the outgoing shot, a door for instance; the incoming shot is seen through it.',
    layers: [{ role: 'incoming' }, { role: 'outgoing' }],
    traced: 'outgoing',
    edges: [{ purpose: 'any', on: 'gap', cuts: null }],
    found: 'find what opens',
    until: 'opens',
    ends: opened,
  },
  'pull-back': {
    ...plain,
    says: 'The outgoing shot turns out to lie inside an opening of the incoming one.',
    layers: [{ role: 'outgoing' }, { role: 'incoming' }],
    traced: 'incoming',
    edges: [],
    found: null,
    until: 'stays',
    // The opening is there all along.
    ends: { beforeFirst: 'hold', afterLast: 'hold' },
    // Pulled back, the picture beneath lies in the opening.
    judged: { coverage: true, border: false },
  },
  'hinged leaves': {
    ...plain,
    says: 'Door leaves that never moved are cut out and swing open.',
    layers: [{ role: 'incoming' }, { role: 'outgoing' }],
    traced: 'outgoing',
    edges: [],
    found: null,
    until: 'stays',
    ends: opened,
    swings: true,
  },
  'keyed board': {
    ...plain,
    says: 'The incoming shot appears on a coloured board or screen.',
    layers: [{ role: 'incoming' }, { role: 'outgoing' }],
    traced: 'outgoing',
    cutsBy: 'colour',
    edges: [],
    found: null,
    until: 'fills',
    // A board is cut all along: how much of it is seen says nothing.
    judged: { coverage: false, border: true },
  },
  'lingering subject': {
    ...plain,
    says: 'The outgoing background fades first, the traced subject after it.',
    // The upper of the two outgoing layers keeps the subject.
    layers: [{ role: 'incoming' }, { role: 'outgoing' }, { role: 'outgoing', keeps: true }],
    traced: 'outgoing',
    edges: [],
    found: null,
    until: 'stays',
    ends: opened,
  },
};

/** @throws RangeError for a plan that there is not. */
export function layoutOf(plan: Plan): PlanLayout {
  if (!Object.hasOwn(plans, plan)) throw new RangeError(`There is no plan “${plan}”.`);
  return plans[plan];
}

/** The roles that a plan needs a shot for, in the order in which the crossing shows them. */
export function rolesOf({ layers }: PlanLayout): Role[] {
  const order: readonly Role[] = ['outgoing', 'passing', 'incoming'];
  return order.filter((role) => layers.some((layer) => layer.role === role));
}

/**
 * The layers of a plan, from the bottom up.
 *
 * @param frameCounts of the shots; a shot of one frame is held for good.
 * @throws RangeError when a role has no shot.
 */
export function layOut(
  plan: Plan,
  shotIds: Partial<Record<Role, string>>,
  frameCounts: Readonly<Record<string, number>>,
  newId: () => string,
): LayerRow[] {
  return layoutOf(plan).layers.map(({ role, keeps = false }, position) => {
    const shotId = shotIds[role];
    if (!shotId) throw new RangeError(`The plan ${plan} needs the ${role} shot.`);
    const holdFrom = frameCounts[shotId] === 1 ? 0 : null;
    return { ...plainLayer, id: newId(), role, shotId, position, holdFrom, keeps };
  });
}

/** What an outline is beyond its poses unless told otherwise: never more in the way than it has to be. */
export function usualEnds(plan: Plan, combine: Combine): Ends {
  switch (combine) {
    case 'add':
      return layoutOf(plan).ends;
    case 'take away':
      return { beforeFirst: 'empty', afterLast: 'empty' };
    case 'keep only':
      return { beforeFirst: 'full', afterLast: 'full' };
    default:
      return assertNever(combine);
  }
}

/**
 * The layer that is traced: the one chosen; else, of those that are cut already, the topmost of the role that the plan traces,
 * or of any; else the topmost of that role that is seen. A shot that is added later never takes over.
 */
export function tracedLayer(document: CrossingDocument): LayerRow | null {
  const layers = Object.values(document.layers).sort((a, b) => b.position - a.position);
  const { traced } = layoutOf(document.crossing.plan);
  const outlined = new Set(Object.values(document.outlines).map(({ layerId }) => layerId));
  const isCut = ({ id, matteId }: LayerRow) =>
    outlined.has(id) || document.chromas[id] !== undefined || matteId !== null;
  const ofRole = ({ role }: LayerRow) => role === traced;
  return (
    layers.find((layer) => layer.traced) ??
    layers.find((layer) => ofRole(layer) && isCut(layer)) ??
    layers.find(isCut) ??
    layers.find((layer) => ofRole(layer) && layer.visible) ??
    layers.find(ofRole) ??
    layers[0] ??
    null
  );
}

/** An outline that is meant for something: its purpose, a first name, and the layer that it cuts. */
export interface Meant {
  purpose: Purpose;
  name: string;
  cutsLayerId: string | null;
}

/**
 * The edges with a purpose that the plan wants on a layer and that are not there yet, as a bridge's front edge and back
 * edge. None for another layer than the traced one.
 */
export function missingEdges(document: CrossingDocument, layerId: string): (Meant & PlanEdge)[] {
  const { edges, traced } = layoutOf(document.crossing.plan);
  if (document.layers[layerId]?.role !== traced) return [];
  const drawn = Object.values(document.outlines).filter((row) => row.layerId === layerId);
  return edges.flatMap((edge) => {
    const { purpose, cuts } = edge;
    const cutLayer = Object.values(document.layers).find(({ role }) => role === cuts);
    const missing =
      purpose !== 'any' && (cuts === null || cutLayer) && !drawn.some((row) => row.purpose === purpose);
    return missing
      ? [{ ...edge, name: purpose[0].toUpperCase() + purpose.slice(1), cutsLayerId: cutLayer?.id ?? null }]
      : [];
  });
}

/** What the next outline drawn on a layer is for; no name where that is open. */
export function nextOutline(
  document: CrossingDocument,
  layerId: string,
): { purpose: Purpose; name: string | null; cutsLayerId: string | null } {
  const [next] = missingEdges(document, layerId);
  return next
    ? { purpose: next.purpose, name: next.name, cutsLayerId: next.cutsLayerId }
    : { purpose: 'any', name: null, cutsLayerId: null };
}
