import { FilePathSource } from 'mediabunny';
import { type FileHandle, open } from 'node:fs/promises';
import { type FootageFacts, readFacts } from '@/footage/facts';

/** The facts of a file on disk; throws as {@link readFacts}. */
export async function factsOf(file: string): Promise<FootageFacts> {
  const handle = await open(file);
  try {
    const { size } = await handle.stat();
    return await readFacts(
      new FilePathSource(file),
      (offset, length) => readRange(handle, offset, length),
      size,
    );
  } finally {
    await handle.close();
  }
}

async function readRange(handle: FileHandle, offset: number, length: number): Promise<Uint8Array> {
  const bytes = new Uint8Array(length);
  const { bytesRead } = await handle.read(bytes, 0, length, offset);
  return bytes.subarray(0, bytesRead);
}
