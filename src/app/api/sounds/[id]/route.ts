import { SoundBody } from '@/server/bodies';
import { readJson, respond } from '@/server/respond';
import { deleteSound, renameSound, soundById } from '@/server/sounds';
import { validated } from '@/server/validate';

type Context = { params: Promise<{ id: string }> };

export const GET = (_request: Request, { params }: Context) =>
  respond(async () => soundById((await params).id));

export const PATCH = (request: Request, { params }: Context) =>
  respond(async () => renameSound((await params).id, validated(SoundBody, await readJson(request)).name));

export const DELETE = (_request: Request, { params }: Context) =>
  respond(async () => deleteSound((await params).id));
