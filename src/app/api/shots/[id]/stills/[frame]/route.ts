import { respond, serveFile } from '@/server/respond';
import { stillFile } from '@/server/shots';

export const GET = (request: Request, { params }: { params: Promise<{ id: string; frame: string }> }) =>
  respond(async () => {
    const { id, frame } = await params;
    return serveFile(request, stillFile(id, Number(frame)), 'application/octet-stream');
  });
