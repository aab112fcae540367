import { ExportFileQuery } from '@/server/bodies';
import { exportFile } from '@/server/exports';
import { queryOf, respond, serveFile } from '@/server/respond';
import { validated } from '@/server/validate';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const pattern = validated(ExportFileQuery, queryOf(request)).name;
    const { file, name, mimeType } = exportFile((await params).id, pattern);
    return serveFile(request, file, mimeType, name);
  });
