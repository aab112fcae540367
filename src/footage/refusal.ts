/** Why a file is not taken in, in a sentence that says what is wrong and what to do. */
export class FootageRefusal extends Error {
  constructor(
    readonly reason:
      | 'empty'
      | 'not a video'
      | 'truncated'
      | 'no video track'
      | 'not a sound'
      | 'no sound'
      | 'codec'
      | 'too large'
      | 'name'
      | 'incomplete'
      | 'stills',
    message: string,
  ) {
    super(message);
    this.name = 'FootageRefusal';
  }
}

export const refusal = {
  empty: () => new FootageRefusal('empty', 'This file is empty. Copy it again from where it came from.'),
  notVideo: () =>
    new FootageRefusal(
      'not a video',
      'This is not a video file or a picture that Kiv can read. Choose a video, a PNG, JPEG or WebP, or a ZIP of numbered pictures.',
    ),
  truncated: () =>
    new FootageRefusal(
      'truncated',
      'This file ends too early: part of it is missing. Copy it again from the camera or the card.',
    ),
  noVideoTrack: () =>
    new FootageRefusal(
      'no video track',
      'This file has no pictures in it, only sound or data. Choose a video file; sound is brought in by a crossing’s step Sound.',
    ),
  notSound: () =>
    new FootageRefusal(
      'not a sound',
      'This is not a sound that Kiv can read. Choose a WAV, AIFF, FLAC, MP3, AAC, Opus or Vorbis file, or a video with sound.',
    ),
  noSound: () => new FootageRefusal('no sound', 'This file has no sound in it. Choose another one.'),
  tooLong: () =>
    new FootageRefusal('too large', 'This sound is longer than twelve hours. Bring in a shorter part of it.'),
  codec: (codec: string) =>
    new FootageRefusal('codec', `Its pictures are ${codec}, which the browser cannot show as they are.`),
  tooLarge: (limit: number) =>
    new FootageRefusal(
      'too large',
      `This file is larger than the limit of ${formatBytes(limit)}. Bring in a shorter part of it, or start Kiv with a higher KIV_MAX_UPLOAD.`,
    ),
  name: () =>
    new FootageRefusal(
      'name',
      'A file name must not be empty, hold path parts such as / or \\, or be over 200 characters.',
    ),
  incomplete: () =>
    new FootageRefusal('incomplete', 'The file did not arrive whole. Nothing was kept; bring it in again.'),
};

/** Bytes as people read them: 8 GB, 2.4 MB. */
export function formatBytes(bytes: number): string {
  const units = ['bytes', 'kB', 'MB', 'GB', 'TB'];
  let value = bytes;
  let unit = 0;
  while (value >= 1000 && unit < units.length - 1) {
    value /= 1000;
    unit++;
  }
  return `${unit === 0 || value >= 100 ? Math.round(value) : Number(value.toFixed(1))} ${units[unit]}`;
}
