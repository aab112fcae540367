import { revisionOf } from '@/server/crossings';
import { respond } from '@/server/respond';

export const GET = (_request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => ({ revision: revisionOf((await params).id) }));
