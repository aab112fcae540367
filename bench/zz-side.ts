import { readClip, readTruth } from './clip-frames';
import { SeamModel } from '../src/core/carry/line-model';
import { bandMotion } from '../src/core/carry/band-motion';
import { bandBeside } from '../src/core/carry/run-follower';
import { identity } from '../src/core/geometry/affine';
(async () => {
  const root = '/tmp/passes/shadow';
  const pass = readTruth(root);
  const clip = readClip(root, pass);
  for (const t of [0, 1, 10, 20, 40])
    for (const k of [1, 3]) {
      const l = SeamModel.along(pass.truth[t], 4).runs[0].line;
      const m = (a: number, b: number, s = 40) =>
        bandMotion(clip.pictures[t], clip.pictures[t + k], bandBeside(l, a, b), identity, {
          acrossPx: s,
          downPx: s * 0.6,
          trust: 6,
        });
      for (const [n, b] of [
        ['obj', m(-46, 2)],
        ['wide', m(8, 256)],
        ['near', m(6, 70)],
      ] as any)
        console.log(t, k, n, b?.map.map((v: number) => v.toFixed(3)).join(' '), b?.explained.toFixed(2));
    }
})();
