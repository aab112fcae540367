/** The network that sees people, and what runs it, copied out of their packages to where Kiv serves them. */
import { copyFileSync, existsSync, mkdirSync, statSync } from 'node:fs';
import path from 'node:path';

const builds = ['litert_wasm_internal', 'litert_wasm_compat_internal'];

/** @param {string} root the project's folder. */
export function copyPeopleFiles(root) {
  const to = path.join(root, 'public', 'people');
  mkdirSync(to, { recursive: true });
  const copy = (from, name) => {
    const [own, there] = [path.join(root, 'node_modules', from), path.join(to, name)];
    // What is there already is left: they are large.
    if (existsSync(there) && statSync(there).size === statSync(own).size) return;
    copyFileSync(own, there);
  };
  for (const build of builds)
    for (const kind of ['js', 'wasm']) copy(`@litertjs/core/wasm/${build}.${kind}`, `${build}.${kind}`);
  copy('@mediapipe/selfie_segmentation/selfie_segmentation.tflite', 'people.tflite');
}
