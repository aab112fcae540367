import type { CrossingDocument } from './document';
import { type LayerRow, plainLayer } from './tables';
import type { Plan, Role } from '../model/choices';

/** What a plan sets up. */
export interface PlanLayout {
  plan: Plan;
  /** What happens in it, in one sentence. */
  says: string;
  /** Roles from the bottom layer up. */
  roles: readonly Role[];
  /** The role of the shot that is traced. */
  traced: Role;
  /** The tool that its outlines are drawn with first. */
  tool: 'seam' | 'loop';
  /** What its edge does in the end: fills the frame, stays an opening, or is where something else happens. */
  until: 'fills' | 'opens' | 'stays';
}

export const plans: readonly PlanLayout[] = [
  {
    plan: 'pass-by',
    says: 'Something moves through the outgoing shot; the incoming one appears behind it.',
    roles: ['incoming', 'outgoing'],
    traced: 'outgoing',
    tool: 'seam',
    until: 'fills',
  },
  {
    plan: 'arrival',
    says: 'Something moves through the incoming shot and brings it in behind itself.',
    roles: ['outgoing', 'incoming'],
    traced: 'incoming',
    tool: 'seam',
    until: 'fills',
  },
  {
    plan: 'bridge',
    says: 'Something in a third shot passes: its front edge covers the outgoing shot, its back edge uncovers the incoming one.',
    roles: ['incoming', 'passing', 'outgoing'],
    traced: 'passing',
    tool: 'seam',
    until: 'fills',
  },
  {
    plan: 'opening',
    says: 'A gap opens in the outgoing shot, a door for instance; the incoming shot is seen through it.',
    roles: ['incoming', 'outgoing'],
    traced: 'outgoing',
    tool: 'loop',
    until: 'opens',
  },
  {
    plan: 'pull-back',
    says: 'The outgoing shot turns out to lie inside an opening of the incoming one.',
    roles: ['outgoing', 'incoming'],
    traced: 'incoming',
    tool: 'loop',
    until: 'stays',
  },
  {
    plan: 'hinged leaves',
    says: 'Door leaves that never moved are cut out and swing open.',
    roles: ['incoming', 'outgoing'],
    traced: 'outgoing',
    tool: 'loop',
    until: 'stays',
  },
  {
    plan: 'keyed board',
    says: 'The incoming shot appears on a coloured board or screen.',
    roles: ['incoming', 'outgoing'],
    traced: 'outgoing',
    tool: 'loop',
    until: 'fills',
  },
  {
    plan: 'lingering subject',
    says: 'The outgoing background fades first, the traced subject after it.',
    roles: ['incoming', 'outgoing', 'outgoing'],
    traced: 'outgoing',
    tool: 'loop',
    until: 'stays',
  },
];

/** @throws RangeError for a plan that there is not. */
export function layoutOf(plan: Plan): PlanLayout {
  const layout = plans.find((each) => each.plan === plan);
  if (!layout) throw new RangeError(`There is no plan “${plan}”.`);
  return layout;
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
  const { roles } = layoutOf(plan);
  return roles.map((role, position) => {
    const shotId = shotIds[role];
    if (!shotId) throw new RangeError(`The plan ${plan} needs the ${role} shot.`);
    const holdFrom = frameCounts[shotId] === 1 ? 0 : null;
    // Of a lingering subject's two outgoing layers the upper one keeps the subject.
    const keeps =
      (plan === 'arrival' && role === 'incoming') ||
      (plan === 'lingering subject' && position === roles.length - 1);
    return { ...plainLayer, id: newId(), role, shotId, position, holdFrom, keeps };
  });
}

/** The layer that is traced unless another is chosen: of the role that the plan traces, the topmost. */
export function tracedLayer(document: CrossingDocument): LayerRow | null {
  const layers = Object.values(document.layers).sort((a, b) => b.position - a.position);
  const { traced } = layoutOf(document.crossing.plan);
  return layers.find((layer) => layer.role === traced) ?? layers[0] ?? null;
}

/** What an outline is drawn for. */
export interface Purpose {
  name: string;
  cutsLayerId: string | null;
}

/**
 * The edges of a bridge that its passing layer has not yet: the front edge, which cuts the outgoing shot, comes before the
 * back edge, which cuts the passing one. None for any other layer or plan.
 */
export function missingOfBridge(document: CrossingDocument, layerId: string): Purpose[] {
  const layer = document.layers[layerId];
  if (document.crossing.plan !== 'bridge' || layer?.role !== 'passing') return [];
  const outgoing = Object.values(document.layers).find(({ role }) => role === 'outgoing');
  const outlines = Object.values(document.outlines).filter((row) => row.layerId === layerId);
  const missing: Purpose[] = [];
  if (outgoing && !outlines.some((row) => row.cutsLayerId === outgoing.id))
    missing.push({ name: 'Front edge', cutsLayerId: outgoing.id });
  if (!outlines.some((row) => row.name === 'Back edge'))
    missing.push({ name: 'Back edge', cutsLayerId: null });
  return missing;
}

/** What the next outline drawn on a layer is for; no name where that is open. */
export function nextOutline(
  document: CrossingDocument,
  layerId: string,
): { name: string | null; cutsLayerId: string | null } {
  return missingOfBridge(document, layerId)[0] ?? { name: null, cutsLayerId: null };
}
