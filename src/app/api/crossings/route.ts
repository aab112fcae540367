import { NewCrossingBody } from '@/server/bodies';
import { createCrossing, listCrossings } from '@/server/crossings';
import { readJson, respond } from '@/server/respond';
import { validated } from '@/server/validate';

export const dynamic = 'force-dynamic';

export const GET = () => respond(() => listCrossings());

export const POST = (request: Request) =>
  respond(async () => ({ id: createCrossing(validated(NewCrossingBody, await readJson(request))) }));
