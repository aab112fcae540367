import { sideColours } from '../edge/side-colours';
import { type EdgeSoftness, objectShare, softReach } from '../edge/softness-profile';
import type { StraightPicture } from '../edge/straight';
import { median } from '../numbers/quantile';

/**
 * The softness that explains the picture best where the line is known: by its outer half, where what lies behind is
 * known and the object adds its share.
 */
export function fittedSoftness(
  picture: StraightPicture,
  behind: StraightPicture | null,
  speed: Float64Array,
): EdgeSoftness {
  let best: EdgeSoftness = { sigma: 0.8, shutter: 0 };
  let least = Infinity;
  const { count, across, from, step } = picture;
  const fast = Math.abs(median(speed)) > 3;
  for (const sigma of [0.7, 1.1, 1.7, 2.6, 4, 6, 8.5, 12])
    for (const shutter of fast ? [0, 0.25, 0.5, 0.75, 1] : [0]) {
      const softness = { sigma, shutter };
      const reach = softReach(softness, median(speed));
      if (reach > 33) continue;
      const inner = sideColours(picture, -reach - 6, -reach, 1);
      const outer = sideColours(picture, reach, reach + 6, 1);
      const bare = behind && sideColours(behind, reach, reach + 6, 1);
      const perPlace: number[] = [];
      for (let i = 0; i < count; i++) {
        let [sum, n] = [0, 0];
        const c = 3 * i;
        // A shadow may lie on it, or nothing of it be right.
        const light = bare ? (outer.mean[c] - 16) / (bare.mean[c] - 16) : 1;
        const usable =
          bare !== null && bare.mean[c] > 24 && bare.variance[c] < 4000 && light > 0.3 && light < 2;
        for (let m = 0; m < across; m++) {
          const far = from + m * step;
          if (far < 0 || far > 34) continue;
          const s = i * across + m;
          const y = picture.y[s];
          if (y !== y) continue;
          const share = objectShare(softness, speed[i], far);
          const known = usable && behind!.y[s] === behind!.y[s];
          const [by, bu, bv] = known
            ? [
                16 + (behind!.y[s] - 16) * light,
                128 + (behind!.u[s] - 128) * light,
                128 + (behind!.v[s] - 128) * light,
              ]
            : [outer.mean[c], outer.mean[c + 1], outer.mean[c + 2]];
          const off =
            Math.abs(y - share * inner.mean[c] - (1 - share) * by) +
            Math.abs(picture.u[s] - share * inner.mean[c + 1] - (1 - share) * bu) +
            Math.abs(picture.v[s] - share * inner.mean[c + 2] - (1 - share) * bv);
          sum += Math.min(off, 60);
          n++;
        }
        if (n > 10) perPlace.push(sum / n);
      }
      // At some places the background is not the expected one: use the better places.
      perPlace.sort((a, b) => a - b);
      const better = perPlace.slice(0, Math.ceil(0.6 * perPlace.length));
      const cost =
        better.length > 0 ? better.reduce((sum, value) => sum + value, 0) / better.length : Infinity;
      if (cost < least) [least, best] = [cost, softness];
    }
  return best;
}
