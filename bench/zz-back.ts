import { readClip, readTruth } from './clip-frames';
import { LineFollower } from '../src/core/carry/line-follower';
import { LoopModel, SeamModel } from '../src/core/carry/line-model';
import { distancesTo } from './carry';
(async () => {
  const [name, from, to] = process.argv.slice(2);
  const root = `/tmp/passes/${name}`;
  const pass = readTruth(root);
  const clip = readClip(root, pass);
  const dir = Number(to) > Number(from) ? 1 : -1;
  const pts =
    pass.side === 'right' && pass.kind === 'seam' ? pass.truth[+from].slice().reverse() : pass.truth[+from];
  const f = new LineFollower(clip, dir, undefined, pass.kind === 'loop');
  await f.begin(+from, pass.kind === 'seam' ? SeamModel.along(pts, 4) : LoopModel.around(pts, 4));
  console.log(
    (f as any).flipped,
    (f as any).runs
      .map((r: any) =>
        [
          r.softness,
          r.objectMap.map((v: number) => +v.toFixed(3)).join(' '),
          r.objectMotion?.explained,
          r.behindWay?.frames,
          r.behindWay?.map.map((v: number) => +v.toFixed(2)).join(' '),
        ]
          .map((v) => JSON.stringify(v))
          .join(' '),
      )
      .join('\n'),
  );
  for (let t = +from + dir; t !== +to + dir; t += dir) {
    const s = await f.step();
    if (!s) break;
    const d = distancesTo(pass, t, s.model);
    const r = (f as any).runs;
    console.log(
      t,
      d.error.toFixed(1),
      r
        .map(
          (q: any) =>
            `m ${q.objectMap[4].toFixed(1)},${q.objectMap[5].toFixed(1)} s${q.objectMap[0].toFixed(3)} ex ${q.objectMotion?.explained.toFixed(2)} k ${q.behindWay?.frames} v ${q.speed[q.speed.length >> 1].toFixed(1)}`,
        )
        .join(' | '),
    );
  }
})();
