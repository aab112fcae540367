import { CommitBody } from '@/server/bodies';
import { takeCommit } from '@/server/crossings';
import { readJson, respond } from '@/server/respond';
import { validated } from '@/server/validate';

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => ({
    revision: takeCommit((await params).id, validated(CommitBody, await readJson(request))),
  }));
