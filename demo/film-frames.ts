import { spawnSync } from 'node:child_process';
import type { Frames } from '../src/core/carry/frames';
import { FramePicture } from '../src/core/picture/frame-picture';

/** All frames of a film, decoded by ffmpeg: BT.709, 4:2:0. @throws Error where ffmpeg cannot read it. */
export function readFilm(
  file: string,
  { width, height }: { width: number; height: number },
): Frames & { pictures: FramePicture[] } {
  const out = spawnSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-'], {
    maxBuffer: 2 ** 32,
  });
  if (out.status !== 0) throw new Error(`ffmpeg could not read ${file}: ${String(out.stderr)}`);
  const [cw, ch] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const size = width * height + 2 * cw * ch;
  const pictures = Array.from({ length: Math.floor(out.stdout.length / size) }, (_, k) => {
    const at = (from: number, length: number) =>
      new Uint8Array(out.stdout.buffer, out.stdout.byteOffset + k * size + from, length);
    return new FramePicture({
      width,
      height,
      chromaWidth: cw,
      chromaHeight: ch,
      y: at(0, width * height),
      u: at(width * height, cw * ch),
      v: at(width * height + cw * ch, cw * ch),
      colour: { matrix: 'bt709', fullRange: false },
    });
  });
  return { count: pictures.length, pictures, picture: (frame) => Promise.resolve(pictures[frame]) };
}
