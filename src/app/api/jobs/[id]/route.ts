import { cancelJob, retryJob } from '@/server/jobs';
import { respond } from '@/server/respond';

type Context = { params: Promise<{ id: string }> };

/** Tries again what has failed. */
export const POST = (_request: Request, { params }: Context) =>
  respond(async () => retryJob((await params).id));

export const DELETE = (_request: Request, { params }: Context) =>
  respond(async () => cancelJob((await params).id));
