import type { FoundCrossing } from '@/core/find/crossings';
import type { CrossingDocument } from '@/core/document/tables';
import type { Edit } from '@/core/document/edit';
import type { Plan, Role } from '@/core/model/choices';
import type { Shot } from '@/core/model/shot';
import type { Rate } from '@/core/model/time';
import type { ExportFormat, ExportSoundCodec } from '@/core/formats/export-formats';

/** What the server answers with, as both its ends know it. */

/** A shot with what is needed to decode it. */
export interface ShotMedia {
  shot: Shot;
  /** What its file was called when it was brought in. */
  originalName: string;
  url: string;
  /** Seconds, ascending: see FrameIndex. */
  timestamps: number[];
  keyFrames: number[];
  /** Pictures, one for each frame, in place of a video file. */
  stills: boolean;
  /** Its files were deleted; a grey picture stands in its place. */
  deleted: boolean;
  hasSound: boolean;
  /** Whether its sound was kept for use when it was brought in. */
  keepsSound: boolean;
  /** A copy that steps quickly, of the same frames; for the preview only. */
  work: {
    url: string;
    timestamps: number[];
    keyFrames: number[];
    /** Its width as a share of the shot's. */
    share: number;
  } | null;
}

/** A shot as the Footage view shows it. */
export interface ShotListing extends Omit<Shot, 'motion' | 'frameTimes'> {
  originalName: string;
  byteSize: number;
  container: string;
  codec: string;
  constantRate: boolean;
  /** What it is meant to run at: its rate, or where frames come unevenly the common one behind them. */
  nominalRate: Rate;
  /** Seconds. */
  duration: number;
  hasSound: boolean;
  keepSound: boolean;
  notes: string;
  /** What was done to it on the way in, or empty. */
  treatment: string;
  stills: boolean;
  squarePixels: boolean;
  /** Bits a channel. */
  depth: number;
  /** Most frames that have to be decoded to show one. */
  longestStretch: number;
  hasWorkCopy: boolean;
  /** Whether how it moves has been measured. */
  hasMotion: boolean;
  /** Frames that begin another take, ascending; none where it has not been measured. */
  cuts: readonly number[];
  /** The crossings found in it; null where it has not been looked through. */
  found: FoundCrossing[] | null;
  createdAt: string;
  /** The crossings that use it. */
  usedIn: { id: string; name: string }[];
}

/** A sound file that was brought in. */
export interface SoundListing {
  id: string;
  name: string;
  originalName: string;
  byteSize: number;
  container: string;
  codec: string;
  sampleRate: number;
  channels: number;
  /** Samples at 48 kHz. */
  length: number;
  /** s of the file before its sound begins. */
  lead: number;
  /** s since midnight at which it was recorded, as a Broadcast Wave file says it; null: it does not say. */
  startsAt: number | null;
  url: string;
  createdAt: string;
  /** The crossings that use it. */
  usedIn: { id: string; name: string }[];
}

/** What became of a file that was brought in: a shot, or a conversion that will make one of the same id. */
export type TakenIn = { id: string } | { jobId: string };

/** How far an upload in pieces has come, in bytes. */
export interface UploadState {
  id: string;
  received: number;
}

/** Work under way on footage. */
export interface JobListing {
  id: string;
  kind: 'convert' | 'work copy';
  name: string;
  state: 'waiting' | 'running' | 'failed';
  reason: string;
  /** Frames. */
  done: number;
  of: number;
  message: string;
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
  id: string;
  name: string;
  plan: Plan;
  width: number;
  height: number;
  rateNum: number;
  rateDen: number;
  length: number;
  revision: number;
  updatedAt: string;
  /** Those that are seen, from the top down. */
  layers: { id: string; role: Role; shotName: string }[];
}

/** What was done to a crossing after a revision, oldest first; null: ask for the whole. */
export interface CrossingChanges {
  revision: number;
  commits: { kind: 'do' | 'undo' | 'redo'; edit: Edit }[] | null;
}

/** What the machine that Kiv runs on can do. */
export interface Abilities {
  ffmpeg: boolean;
  /** What it writes, each by the name that the command asks for. */
  formats: { format: ExportFormat; command: string; label: string; says: string; extension: string }[];
}

/** A finished export. */
export interface ExportListing {
  id: string;
  crossingId: string | null;
  crossingName: string;
  revision: number;
  format: ExportFormat;
  byteSize: number;
  width: number;
  height: number;
  rateNum: number;
  rateDen: number;
  frameCount: number;
  sound: ExportSoundCodec;
  /** Number of its first frame; null in lists that did not keep it yet. */
  firstFrame: number | null;
  /** The shot that it shows alone; null: the crossing. */
  shotName: string | null;
  /** Whether there is a small picture of it. */
  hasPicture: boolean;
  createdAt: string;
  /** The crossing's revision now; null where it is gone. */
  newestRevision: number | null;
}
