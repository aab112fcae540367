/** Reads `length` bytes from `offset` of a file; fewer at its end. */
export type ReadRange = (offset: number, length: number) => Promise<Uint8Array>;

/**
 * Whether a file holds all that its outermost structure promises: the boxes of ISO/IEC 14496-12 (MP4, MOV) with
 * their movie box, or the segment of an EBML file (RFC 8794; MKV, WebM). Other files are taken as whole.
 *
 * @param size of the file in bytes.
 */
export async function isWhole(read: ReadRange, size: number): Promise<boolean> {
  const head = await read(0, 12);
  if (head.length >= 4 && view(head).getUint32(0) === 0x1a45dfa3) return ebmlIsWhole(read, size);
  const type = String.fromCharCode(...head.subarray(4, 8));
  if (['ftyp', 'moov', 'mdat', 'wide', 'free', 'skip'].includes(type)) return boxesAreWhole(read, size);
  return true;
}

function view(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

async function boxesAreWhole(read: ReadRange, size: number): Promise<boolean> {
  let hasMovie = false;
  for (let offset = 0; offset + 8 <= size;) {
    const header = await read(offset, 16);
    const data = view(header);
    const type = String.fromCharCode(...header.subarray(4, 8));
    let length = data.getUint32(0);
    if (length === 1 && header.length === 16) length = Number(data.getBigUint64(8));
    else if (length === 0) length = size - offset;
    if (length < 8 || offset + length > size) return false;
    if (type === 'moov') hasMovie = true;
    offset += length;
  }
  return hasMovie;
}

async function ebmlIsWhole(read: ReadRange, size: number): Promise<boolean> {
  const header = variableInteger(await read(4, 8));
  const segment = 4 + header.length + (header.value ?? 0);
  const start = await read(segment, 12);
  if (start.length < 5 || view(start).getUint32(0) !== 0x18538067) return false;
  const { value, length } = variableInteger(start.subarray(4));
  // A segment of unknown size was written by a live recorder and ends where the file ends.
  return value === null || segment + 4 + length + value <= size;
}

/** An EBML element size; `null` for the reserved all-ones, which means unknown. */
function variableInteger(bytes: Uint8Array): { value: number | null; length: number } {
  const length = Math.clz32(bytes[0]) - 23;
  let value = bytes[0] & (0xff >> length);
  let allOnes = value === 0xff >> length;
  for (let i = 1; i < length; i++) {
    value = value * 256 + bytes[i];
    allOnes &&= bytes[i] === 0xff;
  }
  return { value: allOnes ? null : value, length };
}
