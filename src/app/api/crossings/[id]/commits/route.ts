import { validatedCommit } from '@/server/bodies';
import { takeCommit } from '@/server/commits';
import { readJson, respond } from '@/server/respond';

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => ({
    revision: takeCommit((await params).id, validatedCommit(await readJson(request))),
  }));
