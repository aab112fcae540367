import type { PlaneLayout } from '../colour/deep-planes';

/** What is written of a crossing: pictures, or sound alone. */
export type PictureOf = 'result' | 'cut-out' | 'matte';
export type ExportOf = PictureOf | 'sound';

/**
 * What makes the file: the browser's encoder; numbered pictures in a ZIP; the server's ffmpeg, from pictures or planes that
 * it is sent; the mix as one WAV; or a WAV for each track in a ZIP.
 */
export type ExportWriter = 'video' | 'pictures' | 'ffmpeg' | 'mix' | 'tracks';

/** How the server's ffmpeg encodes what it is sent. */
export type Encoding = 'ffv1' | 'prores-422-hq' | 'prores-4444' | 'dnxhr-hqx' | 'hevc' | 'av1';

/** All there is to say of a format: whoever offers, writes, stores or names exports reads it here. */
interface Format {
  label: string;
  of: ExportOf;
  /** What it is good for. */
  says: string;
  writer: ExportWriter;
  /** Of a video; null: of what the browser encodes nothing. */
  codec: 'vp9' | 'av1' | 'avc' | null;
  /** What the server's ffmpeg makes of it; null where it makes nothing. */
  encoding: Encoding | null;
  /** How it is sent to it: as PNG pictures, or as planes of so many bits; null where it is not. */
  sent: 'pictures' | PlaneLayout | null;
  /** Bits of a channel, or of a sample. Over 8, all is worked out with more than that from the shots on. */
  depth: 8 | 10 | 16 | 24;
  /** How often each frame is drawn: once, or for each outline of the traced shot by itself. */
  drawn: 'once' | 'for each outline';
  /** Channels of its sound: two, or the six of 5.1. */
  channels: 2 | 6;
  extension: string;
  mimeType: string;
  /** The name by which the command asks for it. */
  command: string;
}

const pictured = { depth: 8, drawn: 'once', channels: 2, encoding: null, sent: null } as const;
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
const unpictured = { of: 'sound', codec: null, encoding: null, sent: null } as const;
const sound = { ...unpictured, depth: 24, drawn: 'once', channels: 2 } as const;
/** Of a cut or a grade: ten bits, made by the server's ffmpeg. */
const master = { ...pictured, writer: 'ffmpeg', codec: null, depth: 10 } as const;
const mov = { extension: 'mov', mimeType: 'video/quicktime' } as const;
const wide = { chroma: '4:2:2', alpha: false } as const;
const small = { chroma: '4:2:0', alpha: false } as const;

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
  'result-pictures-16': {
    ...pictures,
    ...{ of: 'result', label: 'Numbered pictures (PNG, 16 bits)', command: 'png16', depth: 16 },
    says: 'The finished crossing at full precision, for grading; large',
  },
  prores: {
    ...{ ...master, ...mov, encoding: 'prores-422-hq', sent: wide },
    ...{ of: 'result', label: 'Master, ProRes 422 HQ (MOV, 10 bits)', command: 'prores' },
    says: 'The finished crossing for a cut or a grade, with uncompressed sound',
  },
  dnxhr: {
    ...{ ...master, ...mov, encoding: 'dnxhr-hqx', sent: wide },
    ...{ of: 'result', label: 'Master, DNxHR HQX (MOV, 10 bits)', command: 'dnxhr' },
    says: 'The same for editing systems that prefer it',
  },
  hevc: {
    ...{ ...master, extension: 'mp4', mimeType: 'video/mp4', encoding: 'hevc', sent: small },
    ...{ of: 'result', label: 'MP4 (HEVC, 10 bits)', command: 'hevc10' },
    says: 'The finished crossing, small, without banding',
  },
  'av1-10': {
    ...{ ...master, extension: 'mp4', mimeType: 'video/mp4', encoding: 'av1', sent: small },
    ...{ of: 'result', label: 'MP4 (AV1, 10 bits)', command: 'av1-10' },
    says: 'The same, for the web',
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
    ...{ encoding: 'ffv1', sent: 'pictures' },
    ...{ of: 'cut-out', label: 'Cut-out, Matroska (FFV1 with alpha)', command: 'cutout-ffv1' },
    says: 'The traced shot alone with straight alpha, a video without loss',
  },
  'cut-out-prores': {
    ...{ ...master, ...mov, encoding: 'prores-4444', sent: { chroma: '4:4:4', alpha: true } },
    ...{ of: 'cut-out', label: 'Cut-out, ProRes 4444 with alpha (MOV, 10 bits)', command: 'cutout-prores' },
    says: 'The traced shot alone with straight alpha, for a cut or for compositing',
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
    says: 'The same with 16 bits: no banding when graded or blurred further; slower',
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
  'sound-surround': {
    ...sound,
    ...{ writer: 'mix', extension: 'wav', mimeType: 'audio/wav', channels: 6 },
    ...{ label: 'Sound alone in 5.1, WAV', command: 'wav-51' },
    says: 'Six channels: beds in 5.1 keep theirs, all else is left and right',
  },
  'sound-tracks': {
    ...sound,
    ...{ writer: 'tracks', ...zip },
    ...{
      label: 'Sound, a WAV for each track',
      command: 'wav-tracks',
      says: 'All of the same length, named after what lies on each, in a ZIP',
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
  medium: { label: 'Medium: to share', bitsPerPixel: 0.25, least: 1.5 },
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
  const { of, codec, encoding, extension } = formatOf(format);
  if (!heard) return 'none';
  if (of === 'sound') return 'pcm';
  if (of !== 'result') return 'none';
  if (encoding !== null) return !ffmpeg ? 'none' : extension === 'mov' ? 'pcm' : 'aac';
  if (codec === null) return 'none';
  return codec === 'avc' && ffmpeg ? 'aac' : 'opus';
}

/** Whether a format is encoded as finely as is asked. */
export const hasQuality = (format: ExportFormat) =>
  isVideo(format) || ['hevc', 'av1'].includes(formatOf(format).encoding ?? '');

/** Whether a file of the format says with which timecode it begins. */
export const saysTimecode = (format: ExportFormat) =>
  ['webm', 'mp4', 'mov', 'wav'].includes(formatOf(format).extension) || formatOf(format).writer === 'tracks';

/** Whether the sound goes to the server by itself, which joins it to the pictures. */
export const soundIsJoined = (format: ExportFormat, sound: ExportSoundCodec) =>
  sound === 'aac' || (sound === 'pcm' && needsFfmpeg(format));

/** Whether the server's ffmpeg makes the file from pictures that it is sent. */
export const needsFfmpeg = (format: ExportFormat) => formatOf(format).writer === 'ffmpeg';
