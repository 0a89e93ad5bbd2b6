import { evaluate, pictureLayers } from '../frame';
import { scaledSize, seenTracks, type Piece, type PieceFormat } from '../piece';
import { everyNth, RATES, rateName, sameRate, type Rate } from '../time';
import { FILES, isSeen, isSilent, type FileKind, type PictureCodec, type PlatformFormat, type SoundCodec } from './platform';
import { QUALITY_USUAL, SOUND_BITRATES, type DeliverySettings } from './settings';

type Size = Pick<PieceFormat, 'width' | 'height'>;

/** Settings for a format, and why they are so, in a sentence. */
export interface Suggestion {
  settings: DeliverySettings;
  reason: string;
}

/** The sizes a format takes of a piece, largest first; none when it is of sound alone. */
export function sizesFor({ sizes, longest }: PlatformFormat, size: Size): Size[] {
  if (longest === null) return sizes;
  return [longest, longest * 0.75, longest * 0.5].map((most) => scaledSize(size, Math.min(1, most / Math.max(size.width, size.height))));
}

/** How many times as many pixels across the sharpest picture of a piece has as it is drawn with, and its name; 0 where there is none. */
function sharpness(piece: Piece): { times: number; name: string } {
  let best = { times: 0, name: '' };
  for (const clip of seenTracks(piece).flatMap((track) => track.clips))
    for (const { picture, rect, kind } of pictureLayers(evaluate(piece, clip.start + Math.floor(clip.length / 2)).layers)) {
      const media = piece.media[picture.media];
      const times = media && kind !== 'backdrop' ? media.width / rect.width : 0;
      if (media && times > best.times) best = { times, name: media.name };
    }
  return best;
}

/** The smallest size in which nothing is lost of the sharpest picture, or the largest there is. */
function suggestSize(sizes: readonly Size[], piece: Piece): { size: Size; because: string } {
  const [largest] = sizes as [Size];
  const { times, name } = sharpness({ ...piece, format: { ...piece.format, ...largest } });
  const enough = [...sizes].reverse().find((size) => size.width >= largest.width * times * 0.97);
  const size = enough ?? largest;
  const smallest = sizes.at(-1);
  const says = `${size.width} × ${size.height}`;
  if (times === 0) return { size, because: `${says}, the largest it takes` };
  if (size === largest) return { size, because: `${says}, since “${name}” has that many pixels to show` };
  return {
    size,
    because: size === smallest ? `${says}: no clip has more to show` : `${says}: “${name}”, the sharpest clip, has no more than that`,
  };
}

/** Whether a format takes so many frames a second. */
export const takesRate = ({ rates }: Pick<PlatformFormat, 'rates'>, { num, den }: Rate): boolean =>
  num / den >= rates.least && num / den <= rates.most;

/** The rates that a format takes of a piece without leaving out frames unevenly, fastest first: its own, a half, a third, a quarter of it. */
export const ratesFor = (format: Pick<PlatformFormat, 'rates'>, { rate }: Pick<PieceFormat, 'rate'>): Rate[] =>
  [1, 2, 3, 4].map((n) => everyNth(rate, n)).filter((one) => takesRate(format, one) && one.den <= 1001);

/** The piece's rate where a format takes it; else the fastest it takes that leaves out frames evenly, or any. */
export function rateFor(format: Pick<PlatformFormat, 'rates'>, { rate }: Pick<PieceFormat, 'rate'>): Rate {
  const [even] = ratesFor(format, { rate });
  return even ?? RATES.filter((one) => takesRate(format, one) && one.num / one.den <= rate.num / rate.den).at(-1) ?? rate;
}

/** The first that is wished for of those that a file can hold, or the first of these. */
const firstOf = <C>(wished: readonly C[], held: readonly C[]): C | undefined => wished.find((one) => held.includes(one)) ?? held[0];

/** How the file of a format is made of this piece unless something else is asked for. @param file one of those that the format takes */
export function suggest(piece: Piece, format: PlatformFormat, file: FileKind = format.files[0] as FileKind): Suggestion {
  const kind = FILES[file];
  const soundCodec = isSilent(format) ? undefined : firstOf<SoundCodec>(format.codecs.sound, kind.sound);
  const sound = soundCodec ? { codec: soundCodec, rate: 48_000 as const, bitrate: SOUND_BITRATES[soundCodec]?.usual ?? 0 } : null;
  const captions = format.captions === 'burned in' ? {} : { captions: format.captions };
  const base = { format, file, sound, faststart: true, track: null, part: null, ...captions };
  if (!isSeen(file))
    return {
      settings: { ...base, size: null, rate: piece.format.rate, picture: null },
      reason: `${kind.name}${sound && sound.bitrate > 0 ? ` at ${sound.bitrate / 1000} kbit/s` : ', without loss'}: the sound alone.`,
    };
  const { size, because } = suggestSize(sizesFor(format, piece.format), piece);
  const rate = rateFor(format, piece.format);
  const codec = firstOf<PictureCodec>(format.codecs.picture, kind.picture);
  const picture = codec ? { codec, control: { by: 'quality' as const, quality: QUALITY_USUAL } } : null;
  const fps = sameRate(rate, piece.format.rate)
    ? `${rateName(rate)} frames a second as the piece has`
    : `${rateName(rate)} frames a second, the most it takes evenly`;
  return { settings: { ...base, size, rate, picture }, reason: `${because}; ${fps}.` };
}

/** A piece sent as it is. */
export function asItIs(piece: Piece): DeliverySettings {
  const { width, height, rate } = piece.format;
  return {
    format: null,
    file: 'mp4',
    size: { width, height },
    rate,
    picture: { codec: 'h264', control: { by: 'quality', quality: QUALITY_USUAL } },
    sound: { codec: 'aac', rate: 48_000, bitrate: 192_000 },
    faststart: true,
    track: null,
    part: null,
  };
}
