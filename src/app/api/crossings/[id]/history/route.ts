import { HistoryQuery } from '@/server/bodies';
import { readHistory } from '@/server/crossings';
import { queryOf, respond } from '@/server/respond';
import { validated } from '@/server/validate';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => readHistory((await params).id, validated(HistoryQuery, queryOf(request)).before));
