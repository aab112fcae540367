import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { Edit } from '@/core/document/edit';
import type { ShotMotion, SourceTimecode } from '@/core/model/shot';
import { recordOf, shotFile, stillFile } from '../shots';

/** A parcel: a crossing that travels, as docs/formats/crossing.md describes it. */
export const parcelFormat = 'kiv crossing';
export const parcelVersion = 1;
export const contentsName = 'crossing.json';

/** A shot as a parcel tells of it. */
export interface ParcelShot {
  id: string;
  name: string;
  originalName: string;
  kind: 'video' | 'stills';
  width: number;
  height: number;
  rate: [num: number, den: number];
  frameCount: number;
  bytes: number;
  /** SHA-256 of its file, or of its pictures one after the other; hexadecimal. */
  sha256: string;
  motion: ShotMotion | null;
  /** Of its first frame; left out by versions that kept none. */
  timecode?: SourceTimecode | null;
  /** Names of its files in the parcel; none where the footage was left out. */
  files: string[];
}

/** A sound file as a parcel tells of it. */
export interface ParcelSound {
  id: string;
  name: string;
  originalName: string;
  bytes: number;
  /** SHA-256, hexadecimal. */
  sha256: string;
  /** Its name in the parcel; none where the footage was left out. */
  files: string[];
}

/** One edit of a crossing's history. */
export type ParcelEdit = Omit<Edit, 'id'> & { undone: boolean };

export interface ParcelContents {
  format: typeof parcelFormat;
  version: typeof parcelVersion;
  /** The document's rows by table. */
  rows: Record<string, unknown[]>;
  shots: ParcelShot[];
  /** Left out by versions that had no sound. */
  sounds?: ParcelSound[];
  /** What was done, oldest first, on request; those that are undone can be done again. */
  history?: ParcelEdit[];
}

/** The files that a shot is made of, in their order. */
export function filesOf(id: string): string[] {
  const { kind, frame_count } = recordOf(id);
  return kind === 'stills'
    ? Array.from({ length: frame_count }, (_, n) => stillFile(id, n))
    : [shotFile(id).file];
}

export async function fingerprintOf(files: readonly string[]): Promise<{ sha256: string; bytes: number }> {
  const hash = createHash('sha256');
  let bytes = 0;
  for (const file of files) {
    bytes += (await stat(file)).size;
    for await (const chunk of createReadStream(file)) hash.update(chunk as Buffer);
  }
  return { sha256: hash.digest('hex'), bytes };
}
