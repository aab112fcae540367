/** A matte's alpha, row by row: of 8 bits as all that is shown, or of 16 for what is worked on further elsewhere. */
export type Alpha = Uint8Array | Uint16Array;

/** The alpha that is full. */
export const fullOf = (alpha: Alpha): number => (alpha instanceof Uint16Array ? 65_535 : 255);
