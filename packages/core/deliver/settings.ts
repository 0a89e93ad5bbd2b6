import { z } from 'zod';
import { PieceFormat } from '../piece';
import { Rate } from '../time';
import { Captions, FILES, FileKind, isSeen, PictureCodec, PlatformFormat, SoundCodec } from './platform';

/** How good the picture is, from 0 to 100, in steps of 5: at 80 nobody sees what was lost. */
export const QUALITY_USUAL = 80;

/** What decides how many bytes the picture takes. */
export const Control = z.discriminatedUnion('by', [
  z.object({ by: z.literal('quality'), quality: z.number().int().min(0).max(100) }),
  /** Bits a second. */
  z.object({ by: z.literal('bitrate'), bitrate: z.number().int().min(50_000).max(200_000_000) }),
  /** Bytes of the whole file. */
  z.object({ by: z.literal('bytes'), bytes: z.number().int().min(20_000).max(1_000_000_000_000) }),
]);
export type Control = z.infer<typeof Control>;

/** Bits a second that a sound codec can be given; those without loss have none. */
export const SOUND_BITRATES: Record<SoundCodec, { least: number; most: number; usual: number } | null> = {
  aac: { least: 64_000, most: 320_000, usual: 192_000 },
  opus: { least: 48_000, most: 320_000, usual: 128_000 },
  mp3: { least: 64_000, most: 320_000, usual: 192_000 },
  flac: null,
  wav: null,
};

/** How a delivery is made: everything that decides its file besides the piece. */
export const DeliverySettings = z
  .object({
    /** What it is for, whole, as it was when it was asked for; null: the piece as it is. */
    format: PlatformFormat.nullable(),
    file: FileKind,
    /** Pixels; null: no picture. Another shape than the piece's: the piece is made into it. */
    size: PieceFormat.pick({ width: true, height: true }).nullable(),
    /** Frames a second; not more than the piece has. */
    rate: Rate,
    picture: z.object({ codec: PictureCodec, control: Control }).nullable(),
    sound: z.object({ codec: SoundCodec, rate: z.union([z.literal(44_100), z.literal(48_000)]), bitrate: z.number().int() }).nullable(),
    /** What a player needs stands first in the file, so that it plays before it is all there. */
    faststart: z.boolean(),
    /** Captions: drawn into the picture, as a file beside it, or left out; missing: drawn. */
    captions: Captions.optional(),
    /** One track's sound alone; null: all. */
    track: z.string().max(120).nullable(),
    /** Which part of a piece that goes out in parts, from 0; null: all of it. */
    part: z.number().int().min(0).max(10_000).nullable(),
  })
  .superRefine((settings, context) => {
    const { file, size, picture, sound } = settings;
    const wrong = (message: string) => context.addIssue({ code: 'custom', message });
    const kind = FILES[file];
    if (isSeen(file) !== (size !== null)) wrong('A file with pictures has a size, and one of sound alone has none.');
    if (kind.picture.length > 0 !== (picture !== null)) wrong(`${kind.name} is not encoded so.`);
    if (picture && !(kind.picture as readonly string[]).includes(picture.codec)) wrong(`${kind.name} does not take that picture codec.`);
    if (sound && !(kind.sound as readonly string[]).includes(sound.codec)) wrong(`${kind.name} does not take that sound codec.`);
    if (!size && !sound) wrong('There would be nothing in the file.');
    if (sound) {
      const range = SOUND_BITRATES[sound.codec];
      if (range && (sound.bitrate < range.least || sound.bitrate > range.most)) wrong('That sound bitrate is out of reach.');
      if (sound.codec === 'opus' && sound.rate !== 48_000) wrong('Opus has 48 000 samples a second.');
    }
    if (settings.track !== null && size) wrong('One track alone goes out as sound.');
  });
export type DeliverySettings = z.infer<typeof DeliverySettings>;
