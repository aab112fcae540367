import { DeleteShotQuery, ShotBody } from '@/server/bodies';
import { queryOf, readJson, respond } from '@/server/respond';
import { changeShot, deleteShot, shotWithIndex } from '@/server/shots';
import { validated } from '@/server/validate';

type Context = { params: Promise<{ id: string }> };

export const GET = (_request: Request, { params }: Context) =>
  respond(async () => shotWithIndex((await params).id));

export const PATCH = (request: Request, { params }: Context) =>
  respond(async () => changeShot((await params).id, validated(ShotBody, await readJson(request))));

export const DELETE = (request: Request, { params }: Context) =>
  respond(async () => {
    const { history } = validated(DeleteShotQuery, queryOf(request));
    await deleteShot((await params).id, history);
  });
