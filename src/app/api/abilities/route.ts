import { hasFfmpeg } from '@/server/ffmpeg';
import { respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

export const GET = () => respond(async () => ({ ffmpeg: await hasFfmpeg() }));
