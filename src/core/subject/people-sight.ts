import type { FramePicture } from '../picture/frame-picture';
import { overruledBy, withoutOverruled } from './overruled';
import type { Prior } from './subject-frame';
import { peopleIn, type PeopleNetwork, sharesOnGrid, squareAbout } from './people';

/** Share of what is expected that must be a person, on average, for somebody to be there. */
const somebodyFrom = 0.4;
/** Looks without anybody after which it is asked less often, and every how many frames then. */
const [patience, seldom] = [3, 8];

/** Where people are about a subject that is carried; it asks less often where there is nobody. */
export class PeopleSight {
  private nobody = 0;
  private frames = 0;

  constructor(private readonly network: PeopleNetwork | null) {}

  /**
   * How much of each sample of a grid over a picture is a person, looked at closely about where the subject is expected.
   *
   * @param depths how far inside what is expected each sample lies; negative outside.
   * @returns null where nobody says it; NaN outside of what was looked at.
   */
  async about(
    picture: FramePicture,
    depths: Float32Array,
    small: { width: number; height: number },
  ): Promise<Float32Array | null> {
    if (!this.network || (this.nobody >= patience && this.frames++ % seldom !== 0)) return null;
    const part = squareAbout(depths, small, picture);
    if (!part) return null;
    const shares = sharesOnGrid([await peopleIn(picture, part, this.network)], picture, small);
    let [sum, count] = [0, 0];
    for (let at = 0; at < shares.length; at++) {
      if (!(depths[at] > 0) || Number.isNaN(shares[at])) continue;
      sum += shares[at];
      count++;
    }
    const somebody = sum >= somebodyFrom * count;
    this.nobody = somebody ? 0 : this.nobody + 1;
    return somebody ? shares : null;
  }
}

/** Where people are about what an outline encloses already, which stays where the network sees nobody. */
export async function peopleBeside(
  picture: FramePicture,
  { depths }: Prior,
  small: { width: number; height: number },
  network: PeopleNetwork,
): Promise<Float32Array | null> {
  const people = await new PeopleSight(network).about(picture, depths, small);
  if (!people) return null;
  const inside = Uint8Array.from(depths, (depth) => (depth > 0 ? 1 : 0));
  return withoutOverruled(people, overruledBy({ ...small, inside }, people));
}
