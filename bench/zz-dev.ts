import { readClip, readTruth } from './clip-frames';
import { LineFollower } from '../src/core/carry/line-follower';
import { LoopModel, SeamModel } from '../src/core/carry/line-model';
import { usualSettings } from '../src/core/carry/run-follower';

const dist = (x: number, y: number, line: [number, number][], closed: boolean) => {
  let best = 1e9;
  const n = line.length;
  for (let k = 0; k + (closed ? 0 : 1) < n; k++) {
    const [ax, ay] = line[k];
    const [bx, by] = line[(k + 1) % n];
    const dx = bx - ax,
      dy = by - ay;
    const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
    best = Math.min(best, (x - ax - t * dx) ** 2 + (y - ay - t * dy) ** 2);
  }
  return Math.sqrt(best);
};
(async () => {
  const root = process.env.ROOT ?? '/tmp/passes';
  const over = JSON.parse(process.env.SET ?? '{}');
  const names = process.argv.slice(2);
  let all: number[] = [];
  let touchedAll = 0,
    framesAll = 0;
  for (const name of names) {
    const pass = readTruth(`${root}/${name}`);
    const clip = readClip(`${root}/${name}`, pass);
    const ok = (t: number) => pass.truth[t] && pass.truth[t].every(([x]) => x >= 50 && x <= pass.width - 50);
    const frames = Array.from({ length: clip.count }, (_, t) => t).filter(ok);
    const first = frames[0];
    const last = frames[frames.length - 1];
    const order = (pts: [number, number][]) => (pass.side === 'left' ? pts : pts.slice().reverse());
    const make = (t: number) =>
      pass.kind === 'seam' ? SeamModel.along(order(pass.truth[t]), 4) : LoopModel.around(pass.truth[t], 4);
    const settings = { ...usualSettings, ...over };
    const f = new LineFollower(clip, 1, settings, pass.kind === 'loop');
    await f.begin(first, make(first));
    let touched = 0,
      n = 0,
      steps = 0,
      cum: number[] = [];
    const errs: number[] = [];
    const bad: string[] = [];
    const s = Date.now();
    for (let t = first + 1; t <= last; t++) {
      const got = await f.step();
      const d: number[] = [];
      for (const run of got!.model.runs)
        for (let i = 0; i < run.line.count; i++) {
          if (run.line.y[i] < 0 || run.line.y[i] > pass.height) continue;
          d.push(dist(run.line.x[i], run.line.y[i], pass.truth[t], pass.kind === 'loop'));
        }
      if (process.env.DUMP && t === Number(process.env.DUMP)) {
        const { createCanvas } = await import('@napi-rs/canvas');
        const pic = clip.pictures[t].planes;
        const c = createCanvas(pic.width, pic.height);
        const g = c.getContext('2d');
        const im = g.createImageData(pic.width, pic.height);
        for (let i = 0; i < pic.y.length; i++) {
          const x = i % pic.width,
            y = (i / pic.width) | 0;
          const k = (y >> 1) * pic.chromaWidth + (x >> 1);
          const Y = pic.y[i],
            U = pic.u[k] - 128,
            V = pic.v[k] - 128;
          im.data.set([Y + 1.57 * V, Y - 0.19 * U - 0.47 * V, Y + 1.86 * U, 255], 4 * i);
        }
        g.putImageData(im, 0, 0);
        const ln = (pts: any, col: string, closed: boolean) => {
          g.strokeStyle = col;
          g.lineWidth = 1.5;
          g.beginPath();
          pts.forEach(([x, y]: any, i: number) => (i ? g.lineTo(x, y) : g.moveTo(x, y)));
          if (closed) g.closePath();
          g.stroke();
        };
        ln(pass.truth[t], '#00ff00', pass.kind === 'loop');
        for (const [r, run] of got!.model.runs.entries()) {
          ln(
            Array.from(run.line.x, (x, i) => [x, run.line.y[i]]),
            '#ff00ff',
            false,
          );
          const b = got!.sights[r];
          for (let i = 0; i < run.line.count; i += 6)
            console.log(
              i,
              run.line.y[i].toFixed(0),
              'x',
              run.line.x[i].toFixed(1),
              'err',
              d[i]?.toFixed(1),
              'off',
              b.belief.mean[i].toFixed(2),
              'var',
              b.belief.variance[i].toFixed(2),
              'doubt',
              b.belief.doubt[i].toFixed(2),
              'v',
              b.speed[i].toFixed(1),
              'Be',
              b.behindError[i].toFixed(1),
              'Oe',
              b.objectError[i].toFixed(1),
            );
        }
        (await import('node:fs')).writeFileSync('/tmp/dump.png', c.toBuffer('image/png'));
        process.exit(0);
      }
      d.sort((a, b) => a - b);
      const p95 = d[Math.floor(0.95 * d.length)];
      n++;
      if (process.env.FEAT) {
        const F: number[][] = [[], [], [], [], [], [], []];
        const sm = (v: ArrayLike<number>, r = 4) =>
          Array.from(v, (_, i) => {
            let a = 0,
              c = 0;
            for (let k = Math.max(0, i - r); k <= Math.min(v.length - 1, i + r); k++) {
              a += v[k];
              c++;
            }
            return a / c;
          });
        const p = (v: number[], q: number) =>
          v.slice().sort((a, b) => a - b)[Math.min(v.length - 1, Math.floor(q * v.length))];
        let out: number[] = [];
        steps++;
        const now: number[] = [];
        for (const g of got!.sights) now.push(...sm(g.belief.variance));
        cum = steps === 1 ? now : now.map((v, i) => v + cum[i]);
        const sd: number[] = [],
          db: number[] = [],
          mf: number[] = [],
          of: number[] = [],
          be: number[] = [],
          oe: number[] = [],
          rg: number[] = [],
          nb: number[] = [],
          no: number[] = [];
        for (const g of got!.sights) {
          sd.push(...sm(Array.from(g.belief.variance, Math.sqrt)));
          db.push(...sm(g.belief.doubt));
          mf.push(...sm(g.misfit));
          const m = g.belief.mean;
          of.push(...sm(Array.from(m, Math.abs), 2));
          be.push(...g.behindError);
          oe.push(...g.objectError);
          rg.push(
            ...Array.from(m, (v, i) =>
              Math.abs(v - sm(Array.from(m.slice(Math.max(0, i - 6), i + 7)), 99)[0]),
            ),
          );
        }
        out = [
          p(sd, 0.95),
          p(sd, 0.5),
          p(db, 0.95),
          p(mf, 0.95),
          p(mf, 0.5),
          p(of, 0.95),
          p(of, 0.5),
          p(be, 0.9),
          p(be, 0.5),
          p(oe, 0.9),
          p(oe, 0.5),
          p(rg, 0.95),
          p(cum, 0.95),
          p(cum, 0.5),
          steps,
        ];
        (await import('node:fs')).appendFileSync(
          process.env.FEAT,
          JSON.stringify({ name, t, p95, out }) + '\n',
        );
      }
      if (p95 > 3) {
        touched++;
        bad.push(`${t}:${p95.toFixed(1)}`);
        steps = 0;
        await f.begin(t, make(t));
      }
      errs.push(...d);
    }
    const ms = (Date.now() - s) / n;
    errs.sort((a, b) => a - b);
    const q = (p: number) => errs[Math.floor(p * errs.length)].toFixed(2);
    const r = (f as any).runs[0];
    console.log(
      name.padEnd(10),
      `${touched}/${n}`,
      `med ${q(0.5)} p95 ${q(0.95)} ${ms.toFixed(0)}ms`,
      JSON.stringify(r.softness),
      bad.slice(0, 12).join(' '),
    );
    all = all.concat(errs.filter((_, i) => i % 10 === 0));
    touchedAll += touched / n;
    framesAll += 1;
  }
  all.sort((a, b) => a - b);
  console.log(
    'ALL',
    ((100 * touchedAll) / framesAll).toFixed(1) + '%',
    all[all.length >> 1].toFixed(2),
    all[Math.floor(0.95 * all.length)].toFixed(2),
  );
})();
