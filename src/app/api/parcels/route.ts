import { receiveParcel } from '@/server/parcel/parcel-in';
import { respond } from '@/server/respond';

/** The body is a crossing's ZIP. */
export const POST = (request: Request) => respond(async () => ({ id: await receiveParcel(request) }));
