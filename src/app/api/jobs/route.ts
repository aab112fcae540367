import { listJobs } from '@/server/jobs';
import { respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

export const GET = () => respond(() => listJobs());
