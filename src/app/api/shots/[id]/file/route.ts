import { respond, serveFile } from '@/server/respond';
import { shotFile } from '@/server/shots';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => serveFile(request, shotFile((await params).id).file, 'application/octet-stream'));
