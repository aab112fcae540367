import { DeleteExportQuery, ExportFinishedBody, PositionQuery } from '@/server/bodies';
import { cancelWriting, deleteExport, finishExport, writeExport } from '@/server/exports';
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

/** With `of=under-way` only what is still being written is thrown away, never a finished file. */
export const DELETE = (request: Request, { params }: Context) =>
  respond(async () => {
    const { of } = validated(DeleteExportQuery, queryOf(request));
    const { id } = await params;
    if (of === 'under-way') await cancelWriting(id);
    else await deleteExport(id);
  });
