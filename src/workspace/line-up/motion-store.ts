import { create } from 'zustand';
import { type EdgeProposal, proposeEdge } from '@/core/checks/proposal';
import type { Shot } from '@/core/model/shot';
import { measureMotion, type MotionUnderWay } from '@/shots/measure-motion';
import { sentenceOf } from '@/interface/api';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { markEdge } from './lining-up';
import { tracedNow } from '../session/traced';

interface MotionState {
  /** The shot being measured and how far it is, 0 to 1. */
  measuring: { shotId: string; share: number } | null;
  failure: string | null;
}

export const useMotion = create<MotionState>(() => ({ measuring: null, failure: null }));

let running: MotionUnderWay | null = null;

/**
 * Measures shots that are not measured yet, one after the other, and keeps what is found.
 *
 * @param others footage that is not the crossing's, where some of it is to be measured too.
 * @param found told of each shot once it is measured.
 */
export async function measureShots(
  shotIds: readonly string[],
  others: readonly ShotMedia[] = [],
  found: (shot: Shot) => void = () => undefined,
) {
  if (useMotion.getState().measuring) return;
  for (const shotId of shotIds) {
    const media = [...useDocument.getState().shots, ...others].find(({ shot }) => shot.id === shotId);
    if (!media || media.shot.motion) continue;
    useMotion.setState({ measuring: { shotId, share: 0 }, failure: null });
    const mine = measureMotion(media, (share) => {
      if (running === mine) useMotion.setState({ measuring: { shotId, share } });
    });
    running = mine;
    try {
      const shot = await mine.measured;
      if (running !== mine) return;
      useDocument.getState().setShot(shot);
      found(shot);
    } catch (error) {
      if (running === mine) useMotion.setState({ failure: sentenceOf(error) });
      return;
    } finally {
      if (running === mine) {
        running = null;
        useMotion.setState({ measuring: null });
      }
    }
  }
}

export function stopMeasuring() {
  running?.end();
  running = null;
  useMotion.setState({ measuring: null });
}

/** What the traced shot's movement proposes; null while it is not measured or shows nothing. */
export function proposalNow(): EdgeProposal | null {
  const traced = tracedNow();
  return traced && proposeEdge(traced.document, traced.layer, traced.shot);
}

/** Marks the proposed frames. */
export function acceptProposal(): string | null {
  const proposal = proposalNow();
  if (!proposal) return 'There is nothing proposed yet. Measure the movement in Line up first.';
  markEdge(proposal.opens, proposal.closes);
  return null;
}
