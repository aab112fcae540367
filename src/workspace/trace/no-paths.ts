/** Why nothing can be brought in, as a sentence. */
export class NoPaths extends Error {
  override name = 'NoPaths';
}
