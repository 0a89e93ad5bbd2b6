import {
  asItIs,
  FILES,
  isSoundOnly,
  partsFor,
  partSent,
  rateFor,
  sizesFor,
  SOUND_BITRATES,
  suggest,
  type Captions,
  type Control,
  type FileKind,
  type DeliverySettings,
  type PictureCodec,
  type PlatformFormat,
  type SoundCodec,
  type Suggestion,
} from '@flimzy/core/deliver';
import { heardTracks, isHeard, pieceLength, scaledSize, type Piece } from '@flimzy/core/piece';
import type { Rate } from '@flimzy/core/time';
import { create } from 'zustand';

/** What a person wants otherwise than it is suggested. */
export interface Wish {
  file?: FileKind;
  /** Width of one of the sizes. */
  width?: number;
  rate?: Rate;
  codec?: PictureCodec;
  control?: Control;
  soundCodec?: SoundCodec;
  soundBitrate?: number;
  faststart?: boolean;
  captions?: Captions;
}

/** By the id of a format; of the piece as it is by `AS_IT_IS`. They last as long as the page. */
export const useWishes = create<Record<string, Wish>>(() => ({}));

export const AS_IT_IS = 'as-it-is';

export const wish = (format: string, change: Wish): void =>
  useWishes.setState((all) => ({ ...all, [format]: { ...all[format], ...change } }));
export const forgetWish = (format: string): void => useWishes.setState(({ [format]: _gone, ...others }) => others, true);

/** The piece as it is, as a format that takes everything. */
export function plainFormat(piece: Piece): PlatformFormat {
  const { width, height } = piece.format;
  const times = (by: number) => scaledSize(piece.format, by);
  return {
    id: AS_IT_IS,
    name: 'As it is',
    platform: '',
    files: ['mp4', 'webm', 'gif', 'webp', 'wav', 'flac', 'mp3', 'm4a', 'opus'],
    sizes: [{ width, height }, times(2 / 3), times(1 / 2), times(1 / 4)],
    longest: null,
    rates: { least: 1, most: 120 },
    length: { least: 0, most: null },
    part: null,
    bytes: null,
    codecs: { picture: ['h264', 'hevc', 'vp9', 'av1'], sound: ['aac', 'opus', 'mp3', 'flac', 'wav'] },
    bitrate: null,
    loudness: null,
    safe: { left: 0, top: 0, right: 0, bottom: 0 },
    captions: 'burned in',
  };
}

/** Frames a second that a loop of the piece as it is has: its clock counts hundredths of a second. */
const LOOP_RATES = { rates: { least: 1, most: 25 } };

/** How a piece is sent in a format: as suggested, but for what a person wants otherwise. */
export function settingsFor(piece: Piece, format: PlatformFormat, wanted: Wish = {}): Suggestion {
  const plain = format.id === AS_IT_IS;
  const file = wanted.file && format.files.includes(wanted.file) ? wanted.file : undefined;
  const suggestion = plain && !file ? { settings: asItIs(piece), reason: '' } : suggest(piece, format, file);
  const { settings } = suggestion;
  const kind = FILES[settings.file];
  // A loop of the whole size would be larger than anyone can send.
  const loops = settings.file === 'gif' || settings.file === 'webp';
  const own = loops ? format.sizes.at(-1) : format.sizes[0];
  const size =
    settings.size &&
    (sizesFor(format, piece.format).find(({ width }) => width === wanted.width) ?? (plain ? (own ?? settings.size) : settings.size));
  const codec = wanted.codec && (kind.picture as readonly string[]).includes(wanted.codec) ? wanted.codec : settings.picture?.codec;
  const picture = settings.picture && codec ? { codec, control: wanted.control ?? settings.picture.control } : null;
  const soundCodec =
    wanted.soundCodec && (kind.sound as readonly string[]).includes(wanted.soundCodec) ? wanted.soundCodec : settings.sound?.codec;
  const range = soundCodec ? SOUND_BITRATES[soundCodec] : null;
  const bitrate = range ? Math.max(range.least, Math.min(range.most, wanted.soundBitrate ?? range.usual)) : 0;
  const sound = settings.sound && soundCodec ? { ...settings.sound, codec: soundCodec, bitrate } : null;
  const faster = wanted.rate && wanted.rate.num / wanted.rate.den <= piece.format.rate.num / piece.format.rate.den;
  const made: DeliverySettings = {
    ...settings,
    format: plain ? null : format,
    size,
    rate: faster && wanted.rate && settings.size ? wanted.rate : plain && loops ? rateFor(LOOP_RATES, piece.format) : settings.rate,
    picture,
    sound,
    faststart: wanted.faststart ?? settings.faststart,
    ...(wanted.captions ? { captions: wanted.captions } : {}),
  };
  return { settings: made, reason: suggestion.reason };
}

/** Whether sound alone goes out as a file for each track. */
export const useTracksApart = create<{ apart: boolean }>(() => ({ apart: false }));
export const setTracksApart = (apart: boolean): void => useTracksApart.setState({ apart });

/** Every file that sending a piece in a format makes: its parts, or its tracks. */
export function filesOf(piece: Piece, format: PlatformFormat, wanted: Wish | undefined, apart: boolean): DeliverySettings[] {
  const { settings } = settingsFor(piece, format, wanted);
  if (isSoundOnly(format) && apart) {
    const tracks = heardTracks(piece).filter((track) => track.clips.some((clip) => isHeard(clip, piece.media[clip.media])));
    return tracks.map(({ id }) => ({ ...settings, track: id }));
  }
  const parts = partsFor(pieceLength(piece), format, piece.format);
  return parts.length > 1 ? parts.map((_, part) => ({ ...settings, part })) : [settings];
}

/** Where in the piece what a file shows begins, in flicks. */
export const partStart = (piece: Piece, settings: DeliverySettings): number => partSent(piece, settings)?.part.from ?? 0;
