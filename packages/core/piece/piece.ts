import { z } from 'zod';
import { Effects, FADE_MAX, LEVEL_MAX, LEVEL_MIN } from '../properties';
import { Rate, RATES, sameRate } from '../time';
import { MediaFacts, MediaId } from './media';
import { ShelfEntry } from './shelf';
import { Nest, Timeline } from './track';

/** The version of the document that this code writes. */
export const PIECE_SCHEMA = 1;

/** Size and rate of a piece. */
export const PieceFormat = z.object({
  /** Pixels; even, as 4:2:0 video wants it. */
  width: z.number().int().min(16).max(4096).multipleOf(2),
  height: z.number().int().min(16).max(4096).multipleOf(2),
  rate: Rate.refine((rate) => RATES.some((r) => sameRate(r, rate)), 'not a rate a piece can have'),
});
export type PieceFormat = z.infer<typeof PieceFormat>;

export const PieceName = z.string().trim().min(1, 'A piece needs a name.').max(120, 'A name has at most 120 letters.');

/** How far a piece can be leaned towards speech or music, in dB. */
export const LEAN_MAX = 12;

/** What is done to the sound of the whole piece. Fields that are missing stand for the plain case. */
export const PieceSound = z.object({
  /** How loud the whole is made, before its fades and its limiter, in dB. */
  level: z.number().min(LEVEL_MIN).max(LEVEL_MAX).optional(),
  /** How much softer music is made everywhere, towards speech; below 0 louder. dB. */
  lean: z.number().min(-LEAN_MAX).max(LEAN_MAX).optional(),
  /** How long the whole comes in at its start and goes at its end, in flicks. */
  fadeIn: z.number().int().min(0).max(FADE_MAX).optional(),
  fadeOut: z.number().int().min(0).max(FADE_MAX).optional(),
  /** The limiter is off: what is too loud is distorted. */
  unlimited: z.literal(true).optional(),
});
export type PieceSound = z.infer<typeof PieceSound>;

/** What is said of a piece where it is posted. */
export const About = z.object({
  title: z.string().max(200),
  description: z.string().max(5000),
  tags: z.array(z.string().min(1).max(40)).max(30),
});
export type About = z.infer<typeof About>;

/** The document: everything that decides what is seen and heard. */
export const Piece = z.object({
  schema: z.literal(PIECE_SCHEMA),
  id: z.string().min(1).max(64),
  name: PieceName,
  format: PieceFormat,
  /** False until the rate was chosen by a person or taken from the first clips. */
  rateChosen: z.boolean(),
  /** The timeline that is exported. Its first track is the main picture track. */
  ...Timeline.shape,
  /** The facts of every media item (and nest) that a clip uses or has used, by id. */
  media: z.record(z.string(), MediaFacts),
  /** The piece's shelf in its order; missing until it is first touched. */
  shelf: z.array(ShelfEntry).max(10_000).optional(),
  /** Timelines within the timeline, by id. */
  nests: z.record(MediaId, Nest).optional(),
  sound: PieceSound.optional(),
  /** The platform formats that it is made for, by id. */
  formats: z.array(z.string().min(1).max(64)).max(20).optional(),
  /** What is said of it where it is posted. */
  about: About.optional(),
  /** Which moment its picture shows, in flicks; missing: one a third in. */
  poster: z.number().int().nonnegative().optional(),
  /** What is done to the picture of the whole, in order. */
  effects: Effects.optional(),
});
export type Piece = z.infer<typeof Piece>;

/** The shapes offered for a new piece, at the size most platforms take. */
export const SHAPES = [
  { id: 'vertical', name: 'Vertical', ratio: '9:16', width: 1080, height: 1920 },
  { id: 'portrait', name: 'Portrait', ratio: '4:5', width: 1080, height: 1350 },
  { id: 'square', name: 'Square', ratio: '1:1', width: 1080, height: 1080 },
  { id: 'landscape', name: 'Landscape', ratio: '16:9', width: 1920, height: 1080 },
] as const;
export type ShapeId = (typeof SHAPES)[number]['id'];

/** The offered shape that a format has, or null for a size of its own. */
export function shapeOf(format: Pick<PieceFormat, 'width' | 'height'>): (typeof SHAPES)[number] | null {
  return SHAPES.find((s) => s.width * format.height === s.height * format.width) ?? null;
}

/** The nearest number of pixels that a side of a piece can have: even, and not too few. */
export const evenPixels = (pixels: number): number => Math.max(16, Math.round(pixels / 2) * 2);

/** A size so many times as large, in pixels that a piece can have. */
export const scaledSize = ({ width, height }: Pick<PieceFormat, 'width' | 'height'>, by: number): { width: number; height: number } => ({
  width: evenPixels(width * by),
  height: evenPixels(height * by),
});

/** Whether two sizes are of one shape, but for the pixel or two by which even numbers differ from it. */
export function sameShape(one: Pick<PieceFormat, 'width' | 'height'>, other: Pick<PieceFormat, 'width' | 'height'>): boolean {
  return Math.abs(one.width * other.height - one.height * other.width) <= 2 * Math.max(other.width, other.height);
}

/** What is said of a piece: what was written, and its name for a title. */
export const aboutOf = ({ about, name }: Pick<Piece, 'about' | 'name'>): About => ({
  title: about?.title || name,
  description: about?.description ?? '',
  tags: about?.tags ?? [],
});

/** A piece with an empty main picture track and one empty sound track. */
export function newPiece(id: string, name: string, format: PieceFormat, rateChosen = true): Piece {
  return {
    schema: PIECE_SCHEMA,
    id,
    name,
    format,
    rateChosen,
    tracks: [
      { id: 'main', kind: 'picture', name: 'Picture', muted: false, clips: [] },
      { id: 'sound-1', kind: 'sound', name: 'Music', muted: false, clips: [] },
    ],
    media: {},
  };
}
