import { z } from 'zod';
import { intoMaterial, materialUsed, MediaFacts, Range, shelfOf, timelines, type Clip, type Piece, type ShelfEntry } from '../piece';
import { CoverItem, covers, valueOf } from '../properties';
import { bringIn, onShelf } from './add';
import { at, defineEdit, EditRefused } from './edit';

function needEntry(draft: Piece, media: string): ShelfEntry {
  draft.shelf ??= shelfOf(draft).map((entry) => ({ ...entry }));
  const entry = draft.shelf.find((one) => one.media.id === media);
  if (!entry) throw new EditRefused('That item is not on this piece’s shelf.');
  return entry;
}

/** Puts media items on the piece's shelf. */
export const shelve = defineEdit({
  params: z.object({ media: z.array(MediaFacts).min(1).max(1_000) }),
  title: ({ media }) => `Put ${media.length === 1 ? (media[0]?.name ?? 'it') : `${media.length} items`} on the shelf`,
  apply(draft, { media }) {
    for (const one of media) onShelf(draft, one);
  },
});

/** Takes media items off the piece's shelf; clips that use them stay as they are. */
export const unshelve = defineEdit({
  params: z.object({ media: z.array(z.string()).min(1).max(1_000) }),
  title: ({ media }, piece) => {
    const one = shelfOf(piece).find((entry) => entry.media.id === media[0]);
    return `Take ${media.length === 1 ? (one?.media.name ?? 'it') : `${media.length} items`} off the shelf`;
  },
  apply(draft, { media }) {
    for (const id of media) needEntry(draft, id);
    draft.shelf = (draft.shelf ?? []).filter((entry) => !media.includes(entry.media.id));
  },
});

/** Moves an item of the shelf to another place in its order. */
export const orderShelf = defineEdit({
  params: z.object({ media: z.string(), to: z.number().int().nonnegative() }),
  title: ({ media }, piece) => `Move ${shelfOf(piece).find((entry) => entry.media.id === media)?.media.name ?? 'item'} on the shelf`,
  apply(draft, { media, to }) {
    needEntry(draft, media);
    const shelf = draft.shelf ?? [];
    const [taken] = shelf.splice(
      shelf.findIndex((entry) => entry.media.id === media),
      1,
    );
    if (taken) shelf.splice(Math.min(to, shelf.length), 0, taken);
  },
});

/** Says which stretches of an item are worth keeping: replaces all its ranges. */
export const setRanges = defineEdit({
  params: z.object({ media: z.string(), ranges: z.array(Range.omit({ id: true })).max(1_000) }),
  title: ({ ranges }, piece) => `${ranges.length === 1 ? 'One range' : `${ranges.length} ranges`} ${piece.name ? 'marked' : ''}`.trim(),
  apply(draft, { media, ranges }, { newId }) {
    const entry = needEntry(draft, media);
    for (const { from, to } of ranges)
      if (to <= from || to > entry.media.length)
        throw new EditRefused(`“${entry.media.name}” is ${at(draft, entry.media.length)} long; out comes after in.`);
    entry.ranges = [...ranges].sort((a, b) => a.from - b.from).map((range) => ({ id: newId(), ...range }));
  },
});

/** Whether an item covers a word of a clip. */
const isCoveredBy = (clip: Clip, item: string) => covers.listOf(valueOf(clip, 'covers')).some((cover) => cover.item?.media === item);

/** Puts a newer recording in place of a media item, in some clips or in all, keeping every cut; also where it covers a word. */
export const replaceMedia = defineEdit({
  params: z.object({
    old: z.string(),
    media: MediaFacts,
    /** Null: everywhere the old one is used. */
    clips: z.array(z.string()).max(20_000).nullable(),
    /** How loud the new one is, by what covers are made as loud as is asked for (see `CoverItem`); missing: covers keep the old one. */
    height: CoverItem.shape.height.optional(),
  }),
  title: ({ old, media }, piece) => `Replace ${piece.media[old]?.name ?? 'item'} with ${media.name}`,
  apply(draft, { old, media, clips, height }, { plan }) {
    const all = timelines(plan.piece).flatMap(([, timeline]) =>
      timeline.tracks.flatMap((track) =>
        track.clips.filter((clip) => clips === null || clips.includes(clip.id)).map((clip) => ({ clip, track })),
      ),
    );
    const users = all.filter(({ clip }) => clip.media === old);
    const covered = height === undefined ? [] : all.filter(({ clip }) => isCoveredBy(clip, old));
    if (users.length + covered.length === 0) throw new EditRefused('It is not used there.');
    if (covered.length > 0 && (!media.hasSound || media.length < covers.LEAST))
      throw new EditRefused(`“${media.name}” ${media.hasSound ? 'is too short' : 'has no sound'} to cover a word.`);
    bringIn(plan, draft, media);
    for (const { clip } of covered) {
      const item = { media: media.id, length: media.length, height: height ?? 0 };
      const list = covers.listOf(valueOf(clip, 'covers'));
      plan.set(clip.id, { covers: list.map((cover) => (cover.item?.media === old ? { ...cover, item } : cover)) });
    }
    const oldName = plan.piece.media[old]?.name;
    for (const { clip, track } of users) {
      if (track.kind === 'picture' ? media.width === 0 : !media.hasSound)
        throw new EditRefused(`“${media.name}” has no ${track.kind === 'picture' ? 'picture' : 'sound'}, and “${clip.name}” needs one.`);
      const still = media.kind === 'photo';
      if (!still && materialUsed(clip) > media.length)
        throw new EditRefused(`“${media.name}” is only ${at(draft, media.length)} long; “${clip.name}” shows ${at(draft, clip.length)}.`);
      plan.set(clip.id, {
        media: media.id,
        name: clip.name === oldName ? media.name : clip.name,
        ...(still ? {} : intoMaterial(clip, media)),
      });
    }
  },
});
