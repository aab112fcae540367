import { readClip, readTruth } from './clip-frames';
import { LoopModel } from '../src/core/carry/line-model';
import { bandMotion } from '../src/core/carry/band-motion';
import { bandBeside } from '../src/core/carry/run-follower';
import { edgeGoesWithRight } from '../src/core/carry/object-side';
import { identity } from '../src/core/geometry/affine';
(async () => { const root='/tmp/passes/shutters'; const pass=readTruth(root); const clip=readClip(root, pass);
 for (const t of [0,1,10]) for (const run of LoopModel.around(pass.truth[t],4).runs) { const l=run.line;
  const m=(a:number,b:number)=>bandMotion(clip.pictures[t],clip.pictures[t+1],bandBeside(l,a,b),identity,{acrossPx:77,downPx:38,trust:4});
  const a=m(-46,3), b=m(-3,46); console.log(t, l.nx[5].toFixed(1), l.ny[5].toFixed(1), l.room, 'left', a?.map.slice(4).map(v=>v.toFixed(1)), a?.explained.toFixed(2), 'right', b?.map.slice(4).map(v=>v.toFixed(1)), b?.explained.toFixed(2), await edgeGoesWithRight(clip,t,1,l)); }
})();
