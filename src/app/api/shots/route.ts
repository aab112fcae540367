import { validatedFileName } from '@/server/bodies';
import { receiveShot } from '@/server/receive';
import { queryOf, respond } from '@/server/respond';
import { listShots } from '@/server/shots';

export const dynamic = 'force-dynamic';

export const GET = () => respond(() => listShots());

/** The body is the file itself; its name stands in the address. */
export const POST = (request: Request) =>
  respond(() => receiveShot(request, validatedFileName(queryOf(request).name ?? null)));
