import { type CompiledModel, loadAndCompile, loadLiteRt, Tensor } from '@litertjs/core';
import * as Comlink from 'comlink';

/** Where Kiv serves the network and what runs it (`scripts/people-files.mjs`). */
const served = '/people/';

let model: Promise<CompiledModel> | null = null;

async function load(): Promise<CompiledModel> {
  // Told where its file is: by itself it looks beside this worker's own.
  const locateFile = (name: string) => `${served}${name}`;
  // What it says of accelerators that it does without is no error.
  const quietly = () => {};
  Object.assign(self, { Module: { locateFile, print: quietly, printErr: quietly } });
  console.warn = quietly;
  await loadLiteRt(served);
  return loadAndCompile(locateFile('people.tflite'), { accelerator: 'wasm' });
}

const service = {
  /** Loads the network. @throws Error where the browser lets no WebAssembly run, or a file is missing. */
  async ready(): Promise<void> {
    await (model ??= load());
  },

  /** As `PeopleNetwork` has it; the picture is handed over. */
  async shares(rgb: Float32Array): Promise<Float32Array> {
    const compiled = await (model ??= load());
    const [{ shape }] = compiled.getInputDetails();
    const input = new Tensor(rgb, [...shape]);
    const [output] = await compiled.run([input]);
    const shares = Float32Array.from(output.toTypedArray());
    input.delete();
    output.delete();
    return Comlink.transfer(shares, [shares.buffer]);
  },
};

export type PeopleService = typeof service;

Comlink.expose(service);
