import { validatedFileName } from '@/server/bodies';
import { queryOf, respond } from '@/server/respond';
import { listSounds, receiveSound } from '@/server/sounds';

export const dynamic = 'force-dynamic';

export const GET = () => respond(() => listSounds());

/** The body is the file itself; its name stands in the address. */
export const POST = (request: Request) =>
  respond(() => receiveSound(request, validatedFileName(queryOf(request).name ?? null)));
