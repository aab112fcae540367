/** Samples that a decoder of MPEG audio layer III adds in front, with one of rounding: as LAME's tag asks to be skipped. */
const decoderDelay = 529;
/** Bytes of the tag's beginning up to the encoder's delay and padding, 12 bits each. */
const toDelays = 21;
/** Bytes after `Xing` or `Info` before the encoder's name, by which of its four parts are there. */
const parts = [4, 4, 100, 4];

/**
 * Samples that an MP3's encoder and decoder put before its sound, as its Info tag says (*Mp3 Info Tag, revision 1*, by
 * LAME's authors); 0 where there is no such tag.
 *
 * @param head the file's first bytes, some thousands.
 */
function mp3Lead(head: Uint8Array): number {
  const text = new TextDecoder('latin1').decode(head);
  const at = ['Xing', 'Info'].map((name) => text.indexOf(name)).filter((place) => place >= 0)[0];
  if (at === undefined || at + 8 > head.length) return 0;
  const flags = head[at + 7];
  const tag = at + 8 + parts.reduce((sum, bytes, k) => sum + ((flags >> k) & 1 ? bytes : 0), 0);
  // Encoders that write the tag write their name of nine characters first.
  if (tag + toDelays + 3 > head.length || !/^[A-Za-z]{4}/.test(text.slice(tag, tag + 4))) return 0;
  const delay = (head[tag + toDelays] << 4) | (head[tag + toDelays + 1] >> 4);
  return delay + decoderDelay;
}

/**
 * Seconds that an encoder and a decoder put before a file's sound, which its times do not tell of; 0 for formats whose
 * times do.
 *
 * @param head the file's first bytes, some thousands.
 */
export function leadOf(container: string, sampleRate: number, head: Uint8Array): number {
  return container === 'MP3' ? mp3Lead(head) / sampleRate : 0;
}
