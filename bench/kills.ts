import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** `npm run bench -- kills [ROUNDS]`: a process that edits is killed 200 times; nothing that it acknowledged is lost. */
export async function benchKills(rounds: string | null): Promise<void> {
  process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-kills-'));
  const { killRounds } = await import('../properties/kills');
  const { rounds: done, acknowledged, wrong } = await killRounds(Number(rounds ?? 200));
  wrong.forEach((sentence) => console.log(sentence));
  console.log(`Kills: ${done} rounds, ${acknowledged} steps acknowledged, ${wrong.length} lost or wrong`);
  if (wrong.length > 0) process.exit(1);
}
