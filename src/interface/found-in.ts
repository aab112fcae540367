/** Those in which all words that are looked for occur. */
export function foundIn<T>(all: readonly T[], text: string, textOf: (each: T) => string): T[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return all.filter((each) => {
    const own = textOf(each).toLowerCase();
    return words.every((word) => own.includes(word));
  });
}
