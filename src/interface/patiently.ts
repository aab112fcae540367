/** ms to the first try after one that failed, and the most between two. */
const [soon, atMost] = [400, 6000];

/**
 * Loads a part of the page's code. While the server does not answer it is tried again and again, and the page goes on
 * without the part; what is wrong with the part itself fails at once.
 */
export async function patiently<T>(load: () => Promise<T>): Promise<T> {
  for (let wait = soon; ; wait = Math.min(2 * wait, atMost)) {
    try {
      return await load();
    } catch (error) {
      if (!(error instanceof Error) || error.name !== 'ChunkLoadError') throw error;
      await new Promise((done) => setTimeout(done, wait));
    }
  }
}
