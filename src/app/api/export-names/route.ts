import { wrongPattern } from '@/core/formats/export-name';
import { queryOf, respond } from '@/server/respond';

/** Why a pattern names no file, before anything is exported by it; null where it does. */
export const GET = (request: Request) =>
  respond(() => ({ wrong: wrongPattern(String(queryOf(request).pattern ?? '')) }));
