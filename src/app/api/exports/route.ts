import { ExportBody } from '@/server/bodies';
import { beginExport, listExports } from '@/server/exports';
import { readJson, respond } from '@/server/respond';
import { validated } from '@/server/validate';

export const dynamic = 'force-dynamic';

export const GET = () => respond(() => listExports());

/** Begins an export; its pieces are sent to the id that is answered. */
export const POST = (request: Request) =>
  respond(async () => ({ id: await beginExport(validated(ExportBody, await readJson(request))) }));
