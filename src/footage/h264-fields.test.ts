import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { mayBeInterlaced } from './h264-fields';

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-fields-'));

/** The configuration record of a clip: what its avcC box holds (ISO/IEC 14496-15). */
function recordOf(name: string, options: string[]): Uint8Array {
  const file = path.join(folder, `${name}.mp4`);
  const { status, stderr } = spawnSync('ffmpeg', [
    ...[
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=128x96:r=25:d=0.4',
      '-c:v',
      'libx264',
      ...options,
      file,
    ],
  ]);
  if (status !== 0) throw new Error(stderr.toString());
  const bytes = readFileSync(file);
  const at = bytes.indexOf('avcC');
  return new Uint8Array(bytes.subarray(at + 4, at - 4 + bytes.readUInt32BE(at - 4)));
}

/** What ffprobe says of the same file. */
function fieldOrder(name: string): string {
  const { stdout } = spawnSync('ffprobe', [
    ...['-v', 'error', '-select_streams', 'v:0', '-show_entries', 'stream=field_order', '-of', 'csv=p=0'],
    path.join(folder, `${name}.mp4`),
  ]);
  return stdout.toString().trim();
}

const frames = ['-pix_fmt', 'yuv420p'];
const fields = ['-flags', '+ildct+ilme', '-x264opts'];

test.each([
  ['baseline', [...frames, '-profile:v', 'baseline'], false],
  ['main', [...frames, '-profile:v', 'main'], false],
  ['high', frames, false],
  ['scaling lists', [...frames, '-x264opts', 'cqm=jvt'], false],
  ['4:2:2', ['-pix_fmt', 'yuv422p'], false],
  ['main, fields', [...frames, '-profile:v', 'main', ...fields, 'tff=1'], true],
  ['high, fields', [...frames, ...fields, 'bff=1'], true],
  ['scaling lists, fields', [...frames, ...fields, 'tff=1:cqm=jvt'], true],
])('%s: what the sequence parameter set says is what ffprobe finds', (name, options, interlaced) => {
  expect(mayBeInterlaced(recordOf(name, options))).toBe(interlaced);
  expect(['tt', 'bb', 'tb', 'bt'].includes(fieldOrder(name))).toBe(interlaced);
});

test('a record that is none is not taken for interlaced', () => {
  expect(mayBeInterlaced(new Uint8Array(0))).toBe(false);
  expect(mayBeInterlaced(Uint8Array.of(1, 100, 0, 31, 255, 225, 0, 200, 1))).toBe(false);
});
