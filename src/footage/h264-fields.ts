/**
 * Whether an H.264 sequence may hold fields instead of frames: frame_mbs_only_flag of the sequence parameter set that
 * stands in the configuration record (ITU-T H.264 §7.3.2.1.1, ISO/IEC 14496-15 §5.3.3).
 */
export function mayBeInterlaced(record: Uint8Array): boolean {
  const [length, from] = [(record[6] << 8) | record[7], 8];
  if (record[0] !== 1 || (record[5] & 31) === 0 || from + length > record.length) return false;
  const bytes: number[] = [];
  // Without the bytes put in to keep start codes apart.
  for (let i = from + 1, zeros = 0; i < from + length; i++) {
    if (zeros >= 2 && record[i] === 3) {
      zeros = 0;
      continue;
    }
    zeros = record[i] === 0 ? zeros + 1 : 0;
    bytes.push(record[i]);
  }
  let at = 0;
  const bit = () => ((bytes[at >> 3] ?? 0) >> (7 - (at++ & 7))) & 1;
  const bits = (count: number) =>
    Array.from({ length: count }, bit).reduce<number>((sum, b) => sum * 2 + b, 0);
  const unsigned = () => {
    let zeros = 0;
    while (bit() === 0 && zeros < 32) zeros++;
    return 2 ** zeros - 1 + bits(zeros);
  };
  const signed = () => {
    const value = unsigned();
    return value % 2 === 1 ? (value + 1) / 2 : -value / 2;
  };
  const profile = bits(8);
  bits(16);
  unsigned();
  if ([100, 110, 122, 244, 44, 83, 86, 118, 128].includes(profile)) {
    const chroma = unsigned();
    if (chroma === 3) bit();
    unsigned();
    unsigned();
    bit();
    if (bit() === 1)
      for (let list = 0; list < (chroma === 3 ? 12 : 8); list++) {
        if (bit() === 0) continue;
        for (let k = 0, last = 8, next = 8; k < (list < 6 ? 16 : 64); k++) {
          if (next !== 0) next = (last + signed() + 256) % 256;
          last = next === 0 ? last : next;
        }
      }
  }
  unsigned();
  const order = unsigned();
  if (order === 0) unsigned();
  else if (order === 1) {
    bit();
    signed();
    signed();
    const cycle = unsigned();
    for (let k = 0; k < Math.min(cycle, 255); k++) signed();
  }
  unsigned();
  bit();
  unsigned();
  unsigned();
  return bit() === 0;
}
