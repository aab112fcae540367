import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { writePartOfVideo } from '@/footage/part-of-video';
import { factsOf } from '../read-facts';

/** Parts of videos against ffmpeg's decoder: each frame's MD5 is the whole's. */

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-part-'));

function clip(name: string, rate: string, codec: string[]): string {
  const file = path.join(folder, name);
  const picture = ['-f', 'lavfi', '-i', `testsrc2=s=96x54:r=${rate}:d=4`];
  const sound = ['-f', 'lavfi', '-i', 'sine=f=440:r=48000:d=4'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...picture, ...sound, '-shortest', ...codec, file]);
  return file;
}

/** MD5 of every frame, as decoded. */
function framesOf(file: string): string[] {
  const told = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-map', '0:v', '-f', 'framemd5', '-']);
  return told
    .toString()
    .split('\n')
    .filter((line) => line && !line.startsWith('#'))
    .map((line) => line.split(',').at(-1)!.trim());
}

const x264 = (params: string) => ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-x264-params', params];

test.each([
  ['B-frames.mp4', '25', [...x264('keyint=20:min-keyint=20:scenecut=0:bframes=3'), '-c:a', 'aac']],
  ['open groups.mkv', '24', [...x264('open-gop=1:keyint=16:min-keyint=16:scenecut=0:bframes=3')]],
  ['drop-frame rate.mov', '30000/1001', [...x264('keyint=15:min-keyint=15:scenecut=0'), '-c:a', 'pcm_s16le']],
  ['hidden frames.webm', '25', ['-c:v', 'libvpx-vp9', '-g', '20', '-b:v', '200k', '-c:a', 'libopus']],
] as const)(
  '%s: the part has the frames asked for, each as it was, and as the same kind of file',
  async (name, rate, codec) => {
    const whole = clip(name, rate, [...codec]);
    const facts = await factsOf(whole);
    const part = path.join(folder, `part of ${name}`);
    const written = (await writePartOfVideo(whole, facts.index, [37, 52], part))!;
    const { first, count } = written;
    expect([...facts.index.keyFrames]).toContain(first);
    expect(first).toBeLessThanOrEqual(37);
    expect(first).toBeGreaterThan(15);
    expect(first + count - 1).toBeGreaterThanOrEqual(52);
    expect(count).toBeLessThan(facts.index.timestamps.length - 20);
    expect(framesOf(part)).toEqual(framesOf(whole).slice(first, first + count));
    const own = await factsOf(part);
    const { container, codec: kind, constantRate, hasSound, colour } = facts;
    expect(own).toMatchObject({ container, codec: kind, constantRate, hasSound, colour });
    // Of Matroska's milliseconds a short part tells 24 and 23.976 not apart.
    expect((own.rate.num * facts.rate.den) / (own.rate.den * facts.rate.num)).toBeCloseTo(1, 2);
    expect(own.index.timestamps).toHaveLength(count);
    // Its sound goes along from the first picture to the last.
    const heard = JSON.parse(
      execFileSync('ffprobe', [
        '-v',
        'error',
        '-show_packets',
        '-select_streams',
        'a',
        '-of',
        'json',
        part,
      ]).toString(),
    ) as { packets: { pts_time: string; duration_time: string }[] };
    const [begin, end] = [heard.packets[0], heard.packets.at(-1)!];
    expect(Number(begin.pts_time)).toBeLessThan(0.03);
    const length = Number(end.pts_time) + Number(end.duration_time);
    expect(Math.abs(length - count / (facts.rate.num / facts.rate.den))).toBeLessThan(0.08);
  },
);

test('where the part would be all, nothing is written', async () => {
  const whole = path.join(folder, 'B-frames.mp4');
  const { index } = await factsOf(whole);
  const to = path.join(folder, 'all.mp4');
  expect(await writePartOfVideo(whole, index, [3, 99], to)).toBeNull();
  expect(existsSync(to)).toBe(false);
});
