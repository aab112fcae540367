import { respond, serveFile } from '@/server/respond';
import { soundFile } from '@/server/sounds';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => serveFile(request, soundFile((await params).id).file, 'application/octet-stream'));
