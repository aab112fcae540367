import { exportFile } from '@/server/exports';
import { respond, serveFile } from '@/server/respond';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { file, name, mimeType } = exportFile((await params).id);
    return serveFile(request, file, mimeType, name);
  });
