import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { leadOf } from './sound-lead';

test('an MP3’s delay is what LAME wrote, and the decoder’s; without a tag it is nothing', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'kiv-mp3-'));
  const made = (name: string, ...options: string[]) => {
    const file = path.join(folder, name);
    const source = ['-f', 'lavfi', '-i', 'sine=d=0.5', '-ar', '44100'];
    const ran = spawnSync('ffmpeg', ['-v', 'error', '-y', ...source, ...options, file]);
    expect(ran.stderr.toString()).toBe('');
    return new Uint8Array(readFileSync(file));
  };
  // LAME delays by 576 samples, decoders by 529: ffprobe calls the sum of both `start_time`.
  expect(leadOf('MP3', 44_100, made('tag.mp3'))).toBeCloseTo(1105 / 44_100, 9);
  expect(leadOf('MP3', 44_100, made('none.mp3', '-write_xing', '0'))).toBe(0);
  expect(leadOf('WAVE', 44_100, made('tag.mp3'))).toBe(0);
  expect(leadOf('MP3', 44_100, new Uint8Array(0))).toBe(0);
});
