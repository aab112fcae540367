import { SinceQuery } from '@/server/bodies';
import { changesSince } from '@/server/commits';
import { queryOf, respond } from '@/server/respond';
import { validated } from '@/server/validate';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => changesSince((await params).id, validated(SinceQuery, queryOf(request)).since));
