import { SettingsBody } from '@/server/bodies';
import { readJson, respond } from '@/server/respond';
import { changeSettings, readSettings } from '@/server/settings';
import { validated } from '@/server/validate';

export const dynamic = 'force-dynamic';

export const GET = () => respond(() => readSettings());

export const PUT = (request: Request) =>
  respond(async () => changeSettings(validated(SettingsBody, await readJson(request))));
