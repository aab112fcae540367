import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, renameSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/**
 * Debian packages whose photographs are textures of the passes by chance. They are fetched by the bench and never
 * committed; each package's `copyright` file names the terms: GPL 2 or later, and CC BY 4.0, CC BY-SA 3.0 and 4.0.
 */
const packages = [
  { name: 'mate-backgrounds', folder: 'usr/share/backgrounds/mate/nature' },
  { name: 'lomiri-wallpapers-16.04', folder: 'usr/share/backgrounds' },
] as const;

/** Files of the photographs, in the same order on every machine. @throws where a package can't be fetched. */
export function photographs(): string[] {
  return packages.flatMap(({ name, folder }) => {
    const place = path.join(unpacked(name), folder);
    return readdirSync(place)
      .filter((file) => file.endsWith('.jpg'))
      .sort()
      .map((file) => path.join(place, file));
  });
}

/** The folder into which a package was unpacked; it isn't installed. */
function unpacked(name: string): string {
  const place = path.join(os.tmpdir(), 'kiv-photographs', name);
  if (existsSync(place)) return place;
  mkdirSync(path.dirname(place), { recursive: true });
  const fetched = mkdtempSync(path.join(path.dirname(place), 'fetched-'));
  try {
    execFileSync('apt-get', ['download', '-q', name], { cwd: fetched, stdio: ['ignore', 'ignore', 'pipe'] });
  } catch (error) {
    throw new Error(`The package ${name}, whose photographs the passes need, can't be fetched by apt-get.`, {
      cause: error,
    });
  }
  const [file] = readdirSync(fetched);
  execFileSync('dpkg', ['-x', path.join(fetched, file), path.join(fetched, 'whole')]);
  renameSync(path.join(fetched, 'whole'), place);
  return place;
}
