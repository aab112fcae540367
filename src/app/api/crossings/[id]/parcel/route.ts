import { parcelOf } from '@/server/parcel/parcel-out';
import { queryOf, respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

/** The crossing as a ZIP; `?footage=none` leaves the files out. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => parcelOf((await params).id, queryOf(request).footage !== 'none'));
