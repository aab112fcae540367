/** The network that sees people, and what runs it, copied out of their packages to where Kiv serves them. */
import { copyFileSync, mkdirSync } from 'node:fs';
import path from 'node:path';

const builds = ['litert_wasm_internal', 'litert_wasm_compat_internal'];

/** @param {string} root the project's folder. */
export function copyPeopleFiles(root) {
  const from = (name) => path.join(root, 'node_modules', name);
  const to = path.join(root, 'public', 'people');
  mkdirSync(to, { recursive: true });
  for (const build of builds)
    for (const kind of ['js', 'wasm'])
      copyFileSync(from(`@litertjs/core/wasm/${build}.${kind}`), path.join(to, `${build}.${kind}`));
  copyFileSync(
    from('@mediapipe/selfie_segmentation/selfie_segmentation.tflite'),
    path.join(to, 'people.tflite'),
  );
}
