/** Holds what was made last for a key, while it is asked for again and again; what could not be made is forgotten. */
export class Held<T> {
  private own: { key: string; made: Promise<T> } | null = null;

  async of(key: string, make: () => Promise<T>): Promise<T> {
    if (this.own?.key !== key) this.own = { key, made: make() };
    const { made } = this.own;
    try {
      return await made;
    } catch (error) {
      if (this.own?.made === made) this.own = null;
      throw error;
    }
  }
}
