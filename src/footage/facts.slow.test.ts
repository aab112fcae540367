import { FilePathSource } from 'mediabunny';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { isWhole } from './container-extent';
import { writtenTimecode } from '@/core/time/source-timecode';
import { readFacts } from './facts';
import { readTimecodeTrack } from './timecode-track';

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-facts-'));

function run(program: string, args: string[]): string {
  const { status, stdout, stderr } = spawnSync(program, ['-v', 'error', ...args], {
    encoding: 'utf8',
    maxBuffer: 1e8,
  });
  if (status !== 0) throw new Error(stderr);
  return stdout;
}

function clip(name: string, args: string[], seconds = 2): string {
  const file = path.join(folder, name);
  run('ffmpeg', [
    '-y',
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=320x180:r=25:d=${seconds}`,
    '-pix_fmt',
    'yuv420p',
    ...args,
    file,
  ]);
  return file;
}

function factsOf(file: string) {
  const bytes = readFileSync(file);
  const read = async (offset: number, length: number) =>
    new Uint8Array(bytes.subarray(offset, offset + length));
  return readFacts(new FilePathSource(file), read, bytes.length);
}

/** Presentation times as ffprobe has them, ascending. */
function probedTimes(file: string): number[] {
  const lines = run('ffprobe', [
    '-select_streams',
    'v',
    '-show_entries',
    'frame=pts_time',
    '-of',
    'csv=p=0',
    file,
  ]);
  return lines
    .split(/[\s,]+/)
    .filter((text) => text !== '')
    .map(Number)
    .sort((a, b) => a - b);
}

test('the index has the timestamps that ffprobe finds, for B-frames, odd starts, varying and NTSC rates', async () => {
  for (const file of [
    clip('b-frames.mp4', ['-c:v', 'libx264', '-bf', '3', '-g', '20']),
    clip('late.mkv', ['-vf', 'setpts=PTS+1.234/TB', '-c:v', 'libx264', '-bf', '2']),
    clip('varying.mp4', ['-vf', "select='mod(n,3)',setpts=PTS", '-fps_mode', 'vfr', '-c:v', 'libx264']),
    clip('ntsc.webm', ['-r', '30000/1001', '-fps_mode', 'cfr', '-c:v', 'libvpx-vp9', '-b:v', '300k']),
    clip('av1.mp4', ['-c:v', 'libaom-av1', '-cpu-used', '8', '-b:v', '200k'], 0.6),
  ]) {
    const { index } = await factsOf(file);
    const probed = probedTimes(file);
    expect(index.timestamps).toHaveLength(probed.length);
    const shift = index.timestamps[0] - probed[0];
    index.timestamps.forEach((seconds, n) =>
      expect(Math.abs(seconds - probed[n] - shift)).toBeLessThan(0.0011),
    );
  }
});

test('rate, rotation, colour and sound are those of the file', async () => {
  const ntsc = await factsOf(path.join(folder, 'ntsc.webm'));
  expect(ntsc).toMatchObject({
    rate: { num: 30000, den: 1001 },
    codec: 'VP9',
    container: 'WebM',
    constantRate: true,
  });
  expect(await factsOf(path.join(folder, 'varying.mp4'))).toMatchObject({ constantRate: false });

  const plain = clip(
    'tagged.mp4',
    [
      ...['-f', 'lavfi', '-i', 'sine=d=2', '-c:a', 'aac', '-c:v', 'libx264', '-bf', '0', '-g', '10'],
      ...['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'pc'],
    ].filter((_, i) => i > 3),
  );
  expect(await factsOf(plain)).toMatchObject({
    colour: { matrix: 'bt709', fullRange: true },
    hasSound: false,
    codec: 'H.264',
  });
  expect([...(await factsOf(plain)).index.keyFrames]).toEqual([0, 10, 20, 30, 40]);
  // Untagged and below 720 lines: BT.601.
  expect(await factsOf(path.join(folder, 'b-frames.mp4'))).toMatchObject({
    colour: { matrix: 'bt601', fullRange: false },
  });

  const turned = path.join(folder, 'turned.mp4');
  run('ffmpeg', ['-y', '-i', plain, '-c', 'copy', '-metadata:s:v:0', 'rotate=90', turned]);
  const { rotation, width, height } = await factsOf(turned);
  expect([90, 270]).toContain(rotation);
  expect([width, height]).toEqual([180, 320]);
});

test('a file is whole when its outermost parts end with it', async () => {
  const box = (type: string, length: number) => {
    const bytes = new Uint8Array(length);
    new DataView(bytes.buffer).setUint32(0, length);
    bytes.set(
      [...type].map((c) => c.charCodeAt(0)),
      4,
    );
    return [...bytes];
  };
  const whole = (bytes: number[]) =>
    isWhole(async (offset, length) => Uint8Array.from(bytes.slice(offset, offset + length)), bytes.length);
  const good = [...box('ftyp', 20), ...box('mdat', 400), ...box('moov', 60)];
  expect(await whole(good)).toBe(true);
  expect(await whole(good.slice(0, -1))).toBe(false);
  expect(await whole([...box('ftyp', 20), ...box('mdat', 400)])).toBe(false);
  expect(await whole([...box('moov', 60), ...box('mdat', 400).slice(0, 399)])).toBe(false);
  // EBML header of 3 bytes, a segment of 5; then one of unknown size, as live recorders write.
  const ebml = [0x1a, 0x45, 0xdf, 0xa3, 0x83, 1, 2, 3, 0x18, 0x53, 0x80, 0x67];
  expect(await whole([...ebml, 0x85, 1, 2, 3, 4, 5])).toBe(true);
  expect(await whole([...ebml, 0x85, 1, 2, 3, 4])).toBe(false);
  expect(await whole([...ebml, 0xff, 1, 2])).toBe(true);
});

test('a table of samples that claims more than the file can hold is not followed', async () => {
  const whole = readFileSync(clip('one.mp4', ['-c:v', 'libx264'], 0.04));
  const table = (name: string) => whole.indexOf(name) + 4;
  // ISO/IEC 14496-12: 8.7.3 (sample sizes), 8.6.1 (times), 8.7.4 (chunks).
  for (const count of [20_000, 2 ** 28]) {
    const lying = Buffer.from(whole);
    lying.writeUInt32BE(1, table('stsz') + 4);
    lying.writeUInt32BE(count, table('stsz') + 8);
    lying.writeUInt32BE(count, table('stts') + 8);
    lying.writeUInt32BE(count, table('stsc') + 12);
    const file = path.join(folder, `lying-${count}.mp4`);
    writeFileSync(file, lying);
    await expect(factsOf(file)).rejects.toMatchObject({ reason: 'truncated' });
  }
});

test('the timecode is what ffprobe finds: in MP4 and MOV, drop-frame too, and in Matroska; a broken track is none', async () => {
  const probed = (file: string) =>
    /TAG:timecode=(\S+)/i.exec(run('ffprobe', ['-show_format', '-show_streams', file]))![1];
  const files = (
    [
      ['pal.mp4', '25', '10:00:00:05'],
      ['drop.mov', '30000/1001', '00:59:59;28'],
      ['film.mov', '24000/1001', '23:59:59:23'],
      ['fifty.mov', '50', '01:02:03:40'],
      ['tagged.mkv', '25', '09:58:07:06'],
    ] as const
  ).map(([name, rate, timecode]) => clip(name, ['-r', rate, '-c:v', 'libx264', '-timecode', timecode], 1));
  for (const file of files) {
    const { timecode } = await factsOf(file);
    expect(writtenTimecode(timecode!)).toBe(probed(file));
  }
  expect((await factsOf(path.join(folder, 'b-frames.mp4'))).timecode).toBeNull();
  // Any byte of the movie box may be any other: it is read as some timecode or none, and ends.
  const bytes = readFileSync(files[1]);
  const from = bytes.indexOf('moov');
  for (let n = 0; n < 400; n++) {
    const broken = new Uint8Array(bytes);
    for (let k = 0; k < 3; k++)
      broken[from + ((n * 7919 + k * 104_729) % (bytes.length - from))] = (n * 31 + k * 97) % 256;
    const read = async (offset: number, length: number) => broken.subarray(offset, offset + length);
    await readTimecodeTrack(read, broken.length);
  }
});

test('ten bits are told from eight', async () => {
  const deep = ['-pix_fmt', 'yuv420p10le'];
  for (const [file, depth] of [
    [clip('deep.mp4', ['-c:v', 'libx264', ...deep], 0.4), 10],
    [clip('deep.webm', ['-c:v', 'libvpx-vp9', ...deep], 0.4), 10],
    [path.join(folder, 'b-frames.mp4'), 8],
  ] as const)
    expect((await factsOf(file)).depth).toBe(depth);
});
