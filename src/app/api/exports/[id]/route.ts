import { ExportFinishedBody, PositionQuery } from '@/server/bodies';
import { deleteExport, finishExport, writeExport } from '@/server/exports';
import { queryOf, readJson, respond } from '@/server/respond';
import { validated } from '@/server/validate';

type Context = { params: Promise<{ id: string }> };

/** The body is a piece of the file; its place stands in the address. */
export const PATCH = (request: Request, { params }: Context) =>
  respond(async () => {
    const { position, part = 'file' } = validated(PositionQuery, queryOf(request));
    return writeExport((await params).id, { position, part }, request);
  });

/** All pieces have been sent. */
export const POST = (request: Request, { params }: Context) =>
  respond(async () => {
    const { picture } = validated(ExportFinishedBody, await readJson(request));
    return { id: await finishExport((await params).id, picture ?? null) };
  });

export const DELETE = (_request: Request, { params }: Context) =>
  respond(async () => deleteExport((await params).id));
