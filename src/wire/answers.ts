import type { CrossingDocument } from '@/core/document/document';
import type { Edit } from '@/core/document/edit';
import type { Shot } from '@/core/document/rows';

/** What the server answers with, as both its ends know it. */

/** A shot with what is needed to decode it. */
export interface ShotMedia {
  shot: Shot;
  url: string;
  /** Seconds, ascending: see FrameIndex. */
  timestamps: number[];
  keyFrames: number[];
}

/** A shot as the Footage view shows it. */
export interface ShotListing extends Shot {
  originalName: string;
  byteSize: number;
  container: string;
  codec: string;
  constantRate: boolean;
  /** Seconds. */
  duration: number;
  hasSound: boolean;
  createdAt: string;
  /** Names of the crossings that use it. */
  usedIn: string[];
}

/** An edit in the history. */
export interface HistoryEntry extends Edit {
  sequence: number;
  undone: boolean;
}

/** A stretch of a crossing's history, oldest first; undone edits are at its end. */
export interface History {
  history: HistoryEntry[];
  /** True when there are edits older than those given. */
  hasOlder: boolean;
}

/** A crossing as it is opened. */
export interface OpenedCrossing extends History {
  document: CrossingDocument;
  revision: number;
  shots: ShotMedia[];
}

/** A crossing as the shelf shows it. */
export interface CrossingListing {
  document: CrossingDocument;
  revision: number;
  updatedAt: string;
  shots: ShotMedia[];
}

/** A finished export. */
export interface ExportListing {
  id: string;
  crossingId: string | null;
  crossingName: string;
  revision: number;
  format: 'webm' | 'mp4';
  byteSize: number;
  width: number;
  height: number;
  rateNum: number;
  rateDen: number;
  frameCount: number;
  createdAt: string;
}
