import { create } from 'zustand';
import { drawOutline, pointIds, setPose } from '@/core/actions/actions';
import { applyChanges } from '@/core/document/document';
import type { RowChange } from '@/core/document/edit';
import type { OutlineApart } from '@/core/formats/outline-json';
import { placeOutlineApart } from '@/core/formats/outline-placed';
import { usualEnds } from '@/core/document/plans';
import { type OutlineRow } from '@/core/document/tables';
import { numbersPerPoint as N } from '@/core/model/choices';
import { setView } from '../view/view-store';
import { edit } from '../session/edit';
import { tracedNow } from '../session/traced';

/** An outline that could be taken, with its poses by source frame. */
export interface OfferedOutline extends Pick<OutlineRow, 'name' | 'kind'> {
  /** Whether it is a hole in those before it. */
  hole?: boolean;
  poses: readonly { frame: number; coordinates: readonly number[] }[];
  /** All that is known of it, where it is an outline of Kiv's: it is taken as it was. */
  apart?: OutlineApart;
}

/** Outlines from elsewhere that are shown before they are taken. */
interface Offered {
  crossingId: string;
  layerId: string;
  /** Where they are from. */
  from: string;
  outlines: readonly OfferedOutline[];
  /** What of it is not among them, in sentences; empty: nothing. */
  leftOut: string;
}

export const useOffered = create<{ offered: Offered | null }>(() => ({ offered: null }));

/** Shows outlines on the traced shot, to be taken or left. */
export function offer(from: string, found: readonly OfferedOutline[], leftOut = '') {
  const outlines = found.map((each) => ({
    ...each,
    poses: [...each.poses].sort((a, b) => a.frame - b.frame),
  }));
  const traced = tracedNow();
  if (!traced) return;
  const { document, layer } = traced;
  useOffered.setState({
    offered: { crossingId: document.crossing.id, layerId: layer.id, from, outlines, leftOut },
  });
}

/** Leaves what is shown; returns whether anything was. */
export function leaveOffered(): boolean {
  const { offered } = useOffered.getState();
  useOffered.setState({ offered: null });
  return offered !== null;
}

/** What is shown on the layer that is traced now, or null. */
export function offeredNow(): Offered | null {
  const traced = tracedNow();
  const { offered } = useOffered.getState();
  return offered && traced?.layer.id === offered.layerId && traced.document.crossing.id === offered.crossingId
    ? offered
    : null;
}

/** Takes what is shown as outlines, as one edit. Returns what it did as a sentence; null where nothing is shown. */
export function takeOffered(): string | null {
  const traced = tracedNow();
  const offered = offeredNow();
  if (!traced || !offered) return null;
  const { outlines, from } = offered;
  let { document } = traced;
  const changes: RowChange[] = [];
  const put = (more: RowChange[]) => {
    document = applyChanges(document, more);
    changes.push(...more);
  };
  const ids = outlines.map(({ name, kind, hole, poses, apart }) => {
    const id = crypto.randomUUID();
    if (apart) {
      put(placeOutlineApart(document, traced.layer.id, apart, id));
      return id;
    }
    const points = pointIds(poses[0].coordinates.length / N, () => crypto.randomUUID());
    const combine = hole ? 'take away' : 'add';
    const row = {
      id,
      layerId: traced.layer.id,
      cutsLayerId: null,
      name,
      kind,
      points,
      sweptSide: 'right' as const,
      combine,
      ...usualEnds(document.crossing.plan, combine),
    } as const;
    poses.forEach(({ frame, coordinates }, k) =>
      put(
        k === 0 ? drawOutline(document, row, frame, coordinates) : setPose(document, id, frame, coordinates),
      ),
    );
    return id;
  });
  const what = outlines.length === 1 ? outlines[0].name : `${outlines.length} outlines`;
  // The refusal has been shown; the offer stays until the person leaves it.
  if (!edit(`Bring in ${what}`, changes)) return null;
  setView({ outlineId: ids[0], points: new Set() });
  leaveOffered();
  return `${what}, brought in from ${from}. Ctrl Z takes ${outlines.length === 1 ? 'it' : 'them'} back.`;
}
