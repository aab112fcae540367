import { RenameBody } from '@/server/bodies';
import { readJson, respond } from '@/server/respond';
import { deleteShot, renameShot, shotWithIndex } from '@/server/shots';
import { validated } from '@/server/validate';

type Context = { params: Promise<{ id: string }> };

export const GET = (_request: Request, { params }: Context) =>
  respond(async () => shotWithIndex((await params).id));

export const PATCH = (request: Request, { params }: Context) =>
  respond(async () => renameShot((await params).id, validated(RenameBody, await readJson(request)).name));

export const DELETE = (_request: Request, { params }: Context) =>
  respond(async () => deleteShot((await params).id));
