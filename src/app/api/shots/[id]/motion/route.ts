import { MotionBody } from '@/server/bodies';
import { readJson, respond } from '@/server/respond';
import { keepMotion } from '@/server/shots';
import { validated } from '@/server/validate';

export const PUT = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => keepMotion((await params).id, validated(MotionBody, await readJson(request))));
