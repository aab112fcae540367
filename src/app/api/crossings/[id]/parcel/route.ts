import { ParcelQuery } from '@/server/bodies';
import { parcelOf } from '@/server/parcel/parcel-out';
import { queryOf, respond } from '@/server/respond';
import { validated } from '@/server/validate';

export const dynamic = 'force-dynamic';

/**
 * The crossing as a ZIP; `?footage=none` leaves the files out, `?footage=used` takes of each shot what is used with
 * `handles` frames at both ends, `?history=all` takes what was done along.
 */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { footage = 'whole', handles = 12, history } = validated(ParcelQuery, queryOf(request));
    return parcelOf((await params).id, { footage, handles, history: history === 'all' });
  });
