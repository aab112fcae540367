import type { Shot } from '@/core/document/rows';

/** A shot as the server lists it. */
export interface ShotListing extends Shot {
  originalName: string;
  byteSize: number;
  container: string;
  codec: string;
  constantRate: boolean;
  duration: number;
  hasSound: boolean;
  createdAt: string;
  usedIn: string[];
}
