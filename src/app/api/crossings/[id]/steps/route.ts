import { StepBody } from '@/server/bodies';
import { takeStep } from '@/server/crossings';
import { readJson, respond } from '@/server/respond';
import { validated } from '@/server/validate';

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => ({
    revision: takeStep((await params).id, validated(StepBody, await readJson(request))),
  }));
