import { FinishBody, OffsetQuery } from '@/server/bodies';
import { queryOf, readJson, respond } from '@/server/respond';
import { cancelUpload, continueUpload, finishUpload } from '@/server/uploads';
import { validated } from '@/server/validate';

type Context = { params: Promise<{ id: string }> };

/** The body is the next bytes of the file. */
export const PATCH = (request: Request, { params }: Context) =>
  respond(async () =>
    continueUpload((await params).id, validated(OffsetQuery, queryOf(request)).offset, request),
  );

/** All bytes have arrived. */
export const POST = (request: Request, { params }: Context) =>
  respond(async () => finishUpload((await params).id, validated(FinishBody, await readJson(request)).parts));

export const DELETE = (_request: Request, { params }: Context) =>
  respond(async () => cancelUpload((await params).id));
