/** What is written of a crossing: pictures, or sound alone. */
export type PictureOf = 'result' | 'cut-out' | 'matte';
export type ExportOf = PictureOf | 'sound';

interface Format {
  label: string;
  of: ExportOf;
  /** What it is good for. */
  says: string;
  /** Of a video; null: numbered pictures in a ZIP, or sound. */
  codec: 'vp9' | 'av1' | 'avc' | null;
  extension: string;
  mimeType: string;
}

const webm = { codec: 'vp9', extension: 'webm', mimeType: 'video/webm' } as const;
const mp4 = { codec: 'avc', extension: 'mp4', mimeType: 'video/mp4' } as const;
const pictures = { codec: null, extension: 'zip', mimeType: 'application/zip' } as const;

/** All that Kiv writes. Cut-outs are of the traced shot, with straight alpha, mixed as display values. */
export const exportFormats = {
  webm: { label: 'WebM (VP9)', of: 'result', says: 'The finished crossing, to watch and to cut in', ...webm },
  mp4: {
    label: 'MP4 (H.264)',
    of: 'result',
    says: 'The finished crossing, for programs without VP9',
    ...mp4,
  },
  av1: {
    ...{ label: 'WebM (AV1)', of: 'result', says: 'The finished crossing, finer at the same size; slow' },
    ...webm,
    codec: 'av1',
  },
  'result-pictures': {
    ...{ label: 'Numbered pictures (PNG)', of: 'result', says: 'The finished crossing, without loss' },
    ...pictures,
  },
  'cut-out-webm': {
    ...{ label: 'Cut-out, WebM (VP9 with alpha)', of: 'cut-out' },
    ...{ says: 'The traced shot alone, transparent where the other shows; small' },
    ...webm,
  },
  'cut-out-pictures': {
    ...{ label: 'Cut-out, numbered pictures (PNG)', of: 'cut-out' },
    ...{ says: 'The traced shot alone with straight alpha, for compositing' },
    ...pictures,
  },
  'cut-out-ffv1': {
    ...{ label: 'Cut-out, Matroska (FFV1 with alpha)', of: 'cut-out', codec: null },
    ...{ says: 'The traced shot alone with straight alpha, a video without loss' },
    ...{ extension: 'mkv', mimeType: 'video/x-matroska' },
  },
  'matte-mp4': {
    ...{ label: 'Matte, MP4 (H.264)', of: 'matte' },
    ...{ says: 'White where the incoming shot shows; a video to key with' },
    ...mp4,
  },
  'matte-pictures': {
    ...{ label: 'Matte, numbered pictures (PNG)', of: 'matte' },
    ...{ says: 'White where the incoming shot shows; 8 bits, without loss' },
    ...pictures,
  },
  'matte-pictures-16': {
    ...{ label: 'Matte, numbered pictures (PNG, 16 bits)', of: 'matte' },
    ...{ says: 'The same with 16 bits: nothing steps where it is graded or blurred further; slower' },
    ...pictures,
  },
  'outline-mattes': {
    ...{ label: 'Mattes, an outline each, numbered pictures (PNG)', of: 'matte' },
    ...{ says: 'A folder for each outline of the traced shot, as if it were the only one; 8 bits' },
    ...pictures,
  },
  'sound-wav': {
    ...{ label: 'Sound alone, WAV', of: 'sound', says: 'The mix, 48 kHz with 24 bits', codec: null },
    ...{ extension: 'wav', mimeType: 'audio/wav' },
  },
  'sound-tracks': {
    ...{ label: 'Sound, a WAV for each track', of: 'sound', codec: null },
    ...{ says: 'All of the same length, in a ZIP', extension: 'zip', mimeType: 'application/zip' },
  },
} as const satisfies Record<string, Format>;
export type ExportFormat = keyof typeof exportFormats;
/** How finely videos are encoded: bits a pixel, and the least Mbit/s. */
export const exportQualities = {
  fine: { label: 'Fine: keeps the grain', bitsPerPixel: 0.7, least: 4 },
  medium: { label: 'Medium: to show around', bitsPerPixel: 0.25, least: 1.5 },
  small: { label: 'Small: to send', bitsPerPixel: 0.08, least: 0.5 },
} as const;
export type ExportQuality = keyof typeof exportQualities;
export const exportQualityNames = Object.keys(exportQualities) as ExportQuality[];

/** The sound that an export carries. */
export const exportSounds = ['none', 'opus', 'aac', 'pcm'] as const;
export type ExportSoundCodec = (typeof exportSounds)[number];

export const exportFormatNames = Object.keys(exportFormats) as ExportFormat[];

/**
 * The sound that a format carries.
 *
 * @param heard whether the crossing has any. @param ffmpeg whether it is installed where the server runs.
 */
export function soundFor(format: ExportFormat, heard: boolean, ffmpeg: boolean): ExportSoundCodec {
  const { of, codec } = exportFormats[format];
  if (!heard) return 'none';
  if (of === 'sound') return 'pcm';
  if (of !== 'result' || codec === null) return 'none';
  return codec === 'avc' && ffmpeg ? 'aac' : 'opus';
}

/** Whether the server's ffmpeg makes the file from pictures that it is sent. */
export const needsFfmpeg = (format: ExportFormat) => format === 'cut-out-ffv1';
