import { z } from 'zod';
import { FLICKS_PER_SECOND, type Flicks } from '../time';
import { defineProperty } from './property';

/** The most covers on one clip. */
const MOST = 200;

/** What can cover a stretch of sound, by its name. All but silence and garbling sound by themselves, as loud as is asked for. */
export const KINDS = {
  tone: 'Tone',
  silence: 'Silence',
  garble: 'Garbled',
  horn: 'Horn',
  spring: 'Spring',
  birds: 'Birds',
  robot: 'Robot',
  own: 'A sound of yours',
} as const;
export type CoverKind = keyof typeof KINDS;

/** Whether something sounds by itself, and so has a level. */
export const sounds = (kind: CoverKind): kind is Exclude<CoverKind, 'silence' | 'garble'> => kind !== 'silence' && kind !== 'garble';

/** The shortest item that can cover something: a twentieth of a second, in flicks. */
export const LEAST = FLICKS_PER_SECOND / 20;

/** A media item that covers a word, from its beginning, and again when it ends before the word does. */
export const CoverItem = z.object({
  media: z.string().regex(/^[a-z0-9-]{1,64}$/),
  /** How long it is, in flicks. */
  length: z.number().int().min(LEAST),
  /** The level (dB under full scale) of a tone that is as loud as it is, by which it is made as loud as is asked for. */
  height: z.number().min(-60).max(0),
});
export type CoverItem = z.infer<typeof CoverItem>;

/** A stretch of a clip's sound that something covers; the picture stays. */
export const Cover = z
  .object({
    /** Where, in flicks of the material, so that cutting the clip does not move it. */
    from: z.number().int(),
    to: z.number().int(),
    with: z.enum(Object.keys(KINDS) as [CoverKind, ...CoverKind[]]),
    /** How loud what sounds by itself is (its RMS that of a sine of this height), in dB under full scale before the clip's own level. */
    level: z.number().min(-60).max(0),
    /** What covers it, where that is a media item. */
    item: CoverItem.optional(),
  })
  .refine(({ from, to }) => to > from, 'a cover ends after it begins')
  .refine((one) => (one.with === 'own') === (one.item !== undefined), 'a sound of one’s own is named, and nothing else is');
export type Cover = z.infer<typeof Cover>;

const inOrder = (list: readonly Cover[]) => list.every((one, i) => i === 0 || one.from >= (list[i - 1] as Cover).to);

const schema = z.union([z.literal('none'), z.array(Cover).min(1).max(MOST).refine(inOrder, 'covers are in order and apart')]);
export type Covers = z.infer<typeof schema>;

/** The covers of a clip, in order. */
export const listOf = (covers: Covers): readonly Cover[] => (covers === 'none' ? [] : covers);

const coversOf = (list: readonly Cover[]): Covers => (list.length === 0 ? 'none' : [...list].sort((a, b) => a.from - b.from));

/** With one more, or one changed (by its number), as far as its neighbours leave room; null when there is none. */
export function withCover(covers: Covers, cover: Cover, n: number | null): Covers | null {
  const others = listOf(covers).filter((_, i) => i !== n);
  const least = Math.max(-Infinity, ...others.filter((one) => one.from <= cover.from).map((one) => one.to));
  const most = Math.min(Infinity, ...others.filter((one) => one.from > cover.from).map((one) => one.from));
  const [from, to] = [Math.max(cover.from, least), Math.min(cover.to, most)];
  return to > from ? coversOf([...others, { ...cover, from, to }]) : null;
}

export const withoutCover = (covers: Covers, n: number): Covers => coversOf(listOf(covers).filter((_, i) => i !== n));

/** The number of the cover at a moment of the material, or of the nearest within a reach; −1 for none. */
export function coverAt(covers: Covers, moment: Flicks, reach = FLICKS_PER_SECOND): number {
  const away = listOf(covers).map(({ from, to }) => Math.max(0, from - moment, moment - to));
  const nearest = Math.min(Infinity, ...away);
  return nearest <= reach ? away.indexOf(nearest) : -1;
}

/** What covers stretches of a clip's sound. */
export const covers = defineProperty({
  schema,
  plain: 'none',
  always: false,
  side: 'sound',
  label: 'Covered',
  keys: false,
  say: (value) => (value === 'none' ? 'nothing' : `${value.length} ${value.length === 1 ? 'place' : 'places'}`),
  title: (value, clips) =>
    value === 'none'
      ? `Nothing covered on ${clips}`
      : value.length === 1
        ? `Cover a stretch of ${clips}`
        : `Cover ${value.length} stretches of ${clips}`,
});
