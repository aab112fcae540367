import { deleteCrossing, openCrossing } from '@/server/crossings';
import { respond } from '@/server/respond';

type Context = { params: Promise<{ id: string }> };

export const GET = (_request: Request, { params }: Context) =>
  respond(async () => openCrossing((await params).id));

export const DELETE = (_request: Request, { params }: Context) =>
  respond(async () => deleteCrossing((await params).id));
