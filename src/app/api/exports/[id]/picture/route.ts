import { exportPicture } from '@/server/exports';
import { respond } from '@/server/respond';

export const GET = (_request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const picture = new Uint8Array(exportPicture((await params).id));
    return new Response(picture, {
      headers: { 'Content-Type': 'image/webp', 'Cache-Control': 'private, max-age=31536000, immutable' },
    });
  });
