import { parcelOf } from '@/server/parcel/parcel-out';
import { queryOf, respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

/** The crossing as a ZIP; `?footage=none` leaves the files out, `?history=all` takes what was done along. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { footage, history } = queryOf(request);
    return parcelOf((await params).id, footage !== 'none', history === 'all');
  });
