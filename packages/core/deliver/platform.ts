import { z } from 'zod';
import { PieceFormat } from '../piece';

/** Video codecs and sound codecs that a delivery can have. */
export const PictureCodec = z.enum(['h264', 'hevc', 'vp9', 'av1']);
export type PictureCodec = z.infer<typeof PictureCodec>;
export const SoundCodec = z.enum(['aac', 'opus', 'mp3', 'flac', 'wav']);
export type SoundCodec = z.infer<typeof SoundCodec>;

export const CODEC_NAMES: Record<PictureCodec | SoundCodec, string> = {
  h264: 'H.264',
  hevc: 'HEVC',
  vp9: 'VP9',
  av1: 'AV1',
  aac: 'AAC',
  opus: 'Opus',
  mp3: 'MP3',
  flac: 'FLAC',
  wav: 'WAV',
};

/** What becomes of captions: drawn into the picture, as a file beside it, or left out. */
export const Captions = z.enum(['burned in', 'beside', 'none']);
export type Captions = z.infer<typeof Captions>;

/** The kinds of file that can be made, and what each can hold: the codec that comes first is taken unless another is asked for. */
export const FILES = {
  mp4: { name: 'MP4', extension: 'mp4', mime: 'video/mp4', picture: ['h264', 'hevc', 'vp9', 'av1'], sound: ['aac', 'opus'] },
  webm: { name: 'WebM', extension: 'webm', mime: 'video/webm', picture: ['vp9', 'av1'], sound: ['opus'] },
  gif: { name: 'GIF', extension: 'gif', mime: 'image/gif', picture: [], sound: [] },
  webp: { name: 'WebP', extension: 'webp', mime: 'image/webp', picture: [], sound: [] },
  wav: { name: 'WAV', extension: 'wav', mime: 'audio/wav', picture: [], sound: ['wav'] },
  flac: { name: 'FLAC', extension: 'flac', mime: 'audio/flac', picture: [], sound: ['flac'] },
  mp3: { name: 'MP3', extension: 'mp3', mime: 'audio/mpeg', picture: [], sound: ['mp3'] },
  m4a: { name: 'AAC', extension: 'm4a', mime: 'audio/mp4', picture: [], sound: ['aac'] },
  opus: { name: 'Opus', extension: 'opus', mime: 'audio/ogg', picture: [], sound: ['opus'] },
} as const satisfies Record<
  string,
  { name: string; extension: string; mime: string; picture: readonly PictureCodec[]; sound: readonly SoundCodec[] }
>;
export const FileKind = z.enum(Object.keys(FILES) as [keyof typeof FILES, ...(keyof typeof FILES)[]]);
export type FileKind = z.infer<typeof FileKind>;

/** Whether a kind of file shows pictures. */
export const isSeen = (file: FileKind): boolean => FILES[file].picture.length > 0 || file === 'gif' || file === 'webp';

const share = z.number().min(0).max(0.45);
const fps = z.number().min(1).max(120);

/**
 * What a platform takes, as data: shapes and limits. Times are in seconds here, since these are written, read and exchanged by people.
 */
export const PlatformFormat = z.object({
  id: z.string().regex(/^[a-z0-9-]{1,64}$/, 'An id has small letters, digits and dashes.'),
  name: z.string().trim().min(1, 'A format needs a name.').max(60),
  /** Whose it is; empty: nobody's in particular. */
  platform: z.string().trim().max(60),
  /** The files it takes, the usual one first. */
  files: z.array(FileKind).min(1).max(9),
  /** In pixels, largest first, all of one shape. */
  sizes: z.array(PieceFormat.pick({ width: true, height: true })).max(8),
  /** The longer side at most, in pixels, where any shape is taken; with no sizes and null here it is of sound alone. */
  longest: z.number().int().min(16).max(4096).nullable(),
  /** Frames a second. */
  rates: z.object({ least: fps, most: fps }),
  /** Seconds; `most` null: as long as one likes. */
  length: z.object({ least: z.number().min(0).max(86_400), most: z.number().positive().max(86_400).nullable() }),
  /** A longer piece goes out in parts of so many seconds; null: in one. */
  part: z.number().min(1).max(86_400).nullable(),
  /** Bytes of a file at most. */
  bytes: z.number().int().positive().nullable(),
  /** What it takes, the best first; no sound codec: it is silent. */
  codecs: z.object({ picture: z.array(PictureCodec).max(4), sound: z.array(SoundCodec).max(5) }),
  /** Bits a second of the picture at most. */
  bitrate: z.number().int().positive().nullable(),
  /** What it plays at: LUFS, how far off (LU) is let be, and the highest true peak (dBTP). */
  loudness: z
    .object({ target: z.number().min(-40).max(-5), within: z.number().min(0.1).max(20), peak: z.number().min(-20).max(0) })
    .nullable(),
  /** What the platform lays its own things over, as shares of the frame from each edge. */
  safe: z.object({ left: share, top: share, right: share, bottom: share }),
  captions: Captions,
});
export type PlatformFormat = z.infer<typeof PlatformFormat>;

/** Whether a format is of sound alone, and whether it has any sound. */
export const isSoundOnly = (format: Pick<PlatformFormat, 'sizes' | 'longest'>): boolean =>
  format.sizes.length === 0 && format.longest === null;
export const isSilent = (format: Pick<PlatformFormat, 'codecs'>): boolean => format.codecs.sound.length === 0;
