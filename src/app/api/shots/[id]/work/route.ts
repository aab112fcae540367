import { respond, serveFile } from '@/server/respond';
import { workFile } from '@/server/shots';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => serveFile(request, workFile((await params).id), 'application/octet-stream'));
