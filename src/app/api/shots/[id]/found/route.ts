import { FoundBody } from '@/server/bodies';
import { readJson, respond } from '@/server/respond';
import { keepFound } from '@/server/shots';
import { validated } from '@/server/validate';

export const PUT = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => keepFound((await params).id, validated(FoundBody, await readJson(request)).found));
