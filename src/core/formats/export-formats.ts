/** What is written of a crossing: pictures, or sound alone. */
export type PictureOf = 'result' | 'cut-out' | 'matte';
export type ExportOf = PictureOf | 'sound';

/**
 * What makes the file: the browser's encoder; numbered pictures in a ZIP; the server's ffmpeg, from pictures that it is
 * sent; the mix as one WAV; or a WAV for each track in a ZIP.
 */
export type ExportWriter = 'video' | 'pictures' | 'ffmpeg' | 'mix' | 'tracks';

/** All there is to say of a format: whoever offers, writes, stores or names exports reads it here. */
interface Format {
  label: string;
  of: ExportOf;
  /** What it is good for. */
  says: string;
  writer: ExportWriter;
  /** Of a video; null: of what the browser encodes nothing. */
  codec: 'vp9' | 'av1' | 'avc' | null;
  /** Bits of a channel, or of a sample. */
  depth: 8 | 16 | 24;
  /** How often each frame is drawn: once, or for each outline of the traced shot by itself. */
  drawn: 'once' | 'for each outline';
  extension: string;
  mimeType: string;
  /** The name by which the command asks for it. */
  command: string;
}

const pictured = { depth: 8, drawn: 'once' } as const;
const webm = {
  ...pictured,
  writer: 'video',
  codec: 'vp9',
  extension: 'webm',
  mimeType: 'video/webm',
} as const;
const mp4 = { ...pictured, writer: 'video', codec: 'avc', extension: 'mp4', mimeType: 'video/mp4' } as const;
const zip = { extension: 'zip', mimeType: 'application/zip' } as const;
const pictures = { ...pictured, writer: 'pictures', codec: null, ...zip } as const;
const sound = { of: 'sound', codec: null, depth: 24, drawn: 'once' } as const;

/**
 * All that Kiv writes, in the order in which it is offered. Cut-outs are of the traced shot, with straight alpha, mixed
 * as display values. A new format is a record here; a writer or depth that is new does not compile until it is handled.
 */
export const exportFormats = {
  webm: {
    ...webm,
    ...{ of: 'result', label: 'WebM (VP9)', command: 'webm' },
    says: 'The finished crossing, to watch and to cut in',
  },
  mp4: {
    ...mp4,
    ...{ of: 'result', label: 'MP4 (H.264)', command: 'mp4' },
    says: 'The finished crossing, for programs without VP9',
  },
  av1: {
    ...webm,
    ...{ of: 'result', label: 'WebM (AV1)', command: 'av1', codec: 'av1' },
    says: 'The finished crossing, finer at the same size; slow',
  },
  'result-pictures': {
    ...pictures,
    ...{ of: 'result', label: 'Numbered pictures (PNG)', command: 'png' },
    says: 'The finished crossing, without loss',
  },
  'cut-out-webm': {
    ...webm,
    ...{ of: 'cut-out', label: 'Cut-out, WebM (VP9 with alpha)', command: 'cutout' },
    says: 'The traced shot alone, transparent where the other shows; small',
  },
  'cut-out-pictures': {
    ...pictures,
    ...{ of: 'cut-out', label: 'Cut-out, numbered pictures (PNG)', command: 'cutout-png' },
    says: 'The traced shot alone with straight alpha, for compositing',
  },
  'cut-out-ffv1': {
    ...pictured,
    ...{ writer: 'ffmpeg', codec: null, extension: 'mkv', mimeType: 'video/x-matroska' },
    ...{ of: 'cut-out', label: 'Cut-out, Matroska (FFV1 with alpha)', command: 'cutout-ffv1' },
    says: 'The traced shot alone with straight alpha, a video without loss',
  },
  'matte-mp4': {
    ...mp4,
    ...{ of: 'matte', label: 'Matte, MP4 (H.264)', command: 'matte' },
    says: 'White where the incoming shot shows; a video to key with',
  },
  'matte-pictures': {
    ...pictures,
    ...{ of: 'matte', label: 'Matte, numbered pictures (PNG)', command: 'matte-png' },
    says: 'White where the incoming shot shows; 8 bits, without loss',
  },
  'matte-pictures-16': {
    ...pictures,
    ...{ of: 'matte', label: 'Matte, numbered pictures (PNG, 16 bits)', command: 'matte-png16', depth: 16 },
    says: 'The same with 16 bits: nothing steps where it is graded or blurred further; slower',
  },
  'outline-mattes': {
    ...pictures,
    ...{ of: 'matte', label: 'Mattes, an outline each, numbered pictures (PNG)', command: 'outline-mattes' },
    ...{ drawn: 'for each outline' },
    says: 'A folder for each outline of the traced shot, as if it were the only one; 8 bits',
  },
  'sound-wav': {
    ...sound,
    ...{ writer: 'mix', extension: 'wav', mimeType: 'audio/wav' },
    ...{ label: 'Sound alone, WAV', command: 'wav', says: 'The mix, 48 kHz with 24 bits' },
  },
  'sound-tracks': {
    ...sound,
    ...{ writer: 'tracks', ...zip },
    ...{
      label: 'Sound, a WAV for each track',
      command: 'wav-tracks',
      says: 'All of the same length, in a ZIP',
    },
  },
} as const satisfies Record<string, Format>;
export type ExportFormat = keyof typeof exportFormats;

/** A format's description, as every format has it. */
export const formatOf = (format: ExportFormat): Format => exportFormats[format];
/** The formats of which the browser encodes a video. */
export type VideoFormat = {
  [F in ExportFormat]: (typeof exportFormats)[F]['writer'] extends 'video' ? F : never;
}[ExportFormat];
export const isVideo = (format: ExportFormat): format is VideoFormat => formatOf(format).writer === 'video';

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
  const { of, codec } = formatOf(format);
  if (!heard) return 'none';
  if (of === 'sound') return 'pcm';
  if (of !== 'result' || codec === null) return 'none';
  return codec === 'avc' && ffmpeg ? 'aac' : 'opus';
}

/** Whether the server's ffmpeg makes the file from pictures that it is sent. */
export const needsFfmpeg = (format: ExportFormat) => formatOf(format).writer === 'ffmpeg';
