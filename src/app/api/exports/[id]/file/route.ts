import { exportFile } from '@/server/exports';
import { respond, serveFile } from '@/server/respond';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { file, name } = exportFile((await params).id);
    return serveFile(request, file, name.endsWith('.webm') ? 'video/webm' : 'video/mp4', name);
  });
