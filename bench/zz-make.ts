import { passes } from './passes/passes';
import { makePass } from './passes/make';
(async () => {
  for (const p of passes) {
    const s = Date.now();
    await makePass(p, '/tmp/passes');
    console.log(p.name, Date.now() - s);
  }
})();
