import { deleteExport } from '@/server/exports';
import { respond } from '@/server/respond';

export const DELETE = (_request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => deleteExport((await params).id));
