import type { Shot } from '../model/shot';
import { bilinear, type PicturePlanes, shotToPlanes } from '../picture/planes';

/** Most samples along each side of a pixel of the matte, where it is drawn smaller than the picture. */
const mostTaps = 8;

/**
 * A matte that is a picture: its luma as alpha, black to white, joined to what is cut already (the larger counts).
 * Video's narrow range (16 to 235, ITU-R BT.709) is stretched.
 *
 * @param turned black counts in place of white.
 * @param width, height of the matte, which stands for the whole of the picture's frame.
 * @param out width·height bytes.
 */
export function joinReady(
  planes: PicturePlanes,
  shot: Shot,
  turned: boolean,
  { width, height }: { width: number; height: number },
  out: Uint8Array,
) {
  const [a, b, c, d, e, f] = shotToPlanes(shot, planes);
  const [across, down] = [shot.width / width, shot.height / height];
  const taps = Math.min(mostTaps, Math.max(1, Math.round(Math.hypot(a * across, b * across))));
  const [black, span] = planes.colour.fullRange ? [0, 255] : [16, 219];
  const stretched = 255 / (span * taps * taps);
  const { y: lumas, width: wide, height: tall } = planes;
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++, o++) {
      let luma = 0;
      for (let j = 0; j < taps; j++) {
        const sy = (y + (j + 0.5) / taps) * down;
        for (let i = 0; i < taps; i++) {
          const sx = (x + (i + 0.5) / taps) * across;
          luma += bilinear(lumas, wide, tall, a * sx + c * sy + e - 0.5, b * sx + d * sy + f - 0.5) - black;
        }
      }
      const bright = Math.min(255, Math.max(0, Math.round(luma * stretched)));
      out[o] = Math.max(out[o], turned ? 255 - bright : bright);
    }
  }
}
