import { ExportQuery } from '@/server/bodies';
import { keepExport, listExports } from '@/server/exports';
import { queryOf, respond } from '@/server/respond';
import { validated } from '@/server/validate';

export const dynamic = 'force-dynamic';

export const GET = () => respond(() => listExports());

/** The body is the finished file. */
export const POST = (request: Request) =>
  respond(async () => ({ id: await keepExport(request, validated(ExportQuery, queryOf(request))) }));
