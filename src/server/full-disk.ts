import { Problem } from './problem';

/** How SQLite and the file system say that nothing more can be written. */
const fullCodes = new Set(['SQLITE_FULL', 'SQLITE_IOERR_WRITE', 'SQLITE_IOERR_SHMSIZE', 'ENOSPC', 'EDQUOT']);

export function isDiskFull(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  if ('code' in error && fullCodes.has(String(error.code))) return true;
  return isDiskFull(error.cause);
}

/** A full disk as an answer; what waits is written once there is room. */
export const diskFull = (details: Record<string, unknown> = {}) =>
  new Problem(
    507,
    'The disk that Kiv keeps its data on is full. Nothing was lost or half written; make room and it goes on.',
    details,
  );
