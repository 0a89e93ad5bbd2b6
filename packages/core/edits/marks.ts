import { z } from 'zod';
import { Marker, MARKER_LETTERS, timelineOf, type Piece } from '../piece';
import { toGrid } from '../time';
import { defineEdit, EditRefused } from './edit';
import { Inside, Time } from './params';

/** Where markers stand: on a timeline, or in a media item of the shelf. */
const Place = z.union([z.object({ media: z.string() }), z.object({ inside: Inside })]);
type Place = z.output<typeof Place>;

/** The markers of a place, ready to be changed. @throws EditRefused when the place is gone */
function marksOf(draft: Piece, place: Place): Marker[] {
  if ('media' in place) {
    const entry = draft.shelf?.find((one) => one.media.id === place.media);
    if (!entry) throw new EditRefused('That item is not on this piece’s shelf. Put it there first.');
    return entry.markers;
  }
  const timeline = timelineOf(draft, place.inside);
  if (!timeline) throw new EditRefused('That nest is no longer in the piece.');
  timeline.markers ??= [];
  return timeline.markers;
}

/** A marker's time as it is kept: on a timeline it stands on a frame. */
const placed = (draft: Piece, place: Place, time: number) => ('media' in place ? time : toGrid(time, draft.format.rate));

const byTime = (a: Marker, b: Marker) => a.time - b.time;

/** Drops a marker. */
export const mark = defineEdit({
  params: z.object({
    place: Place,
    time: Time,
    name: z.string().max(120).default(''),
    letter: z.enum(MARKER_LETTERS).default('A'),
    note: z.string().max(4_000).default(''),
  }),
  title: ({ name, letter }) => `Marker ${name || letter}`,
  apply(draft, { place, ...marker }, { newId }) {
    const marks = marksOf(draft, place);
    marks.push({ id: newId(), ...marker, time: placed(draft, place, marker.time) });
    marks.sort(byTime);
  },
});

/** Moves a marker, renames it, gives it another letter or note. */
export const setMark = defineEdit({
  params: z.object({ place: Place, id: z.string(), change: Marker.omit({ id: true }).partial() }),
  title: ({ change }) => (change.time === undefined ? `Change marker ${change.name ?? ''}`.trim() : 'Move marker'),
  apply(draft, { place, id, change }) {
    const marks = marksOf(draft, place);
    const marker = marks.find((m) => m.id === id);
    if (!marker) throw new EditRefused('That marker is gone.');
    Object.assign(marker, change, change.time === undefined ? {} : { time: placed(draft, place, change.time) });
    marks.sort(byTime);
  },
});

/** Takes markers away. */
export const unmark = defineEdit({
  params: z.object({ place: Place, ids: z.array(z.string()).min(1).max(10_000) }),
  title: ({ ids }) => (ids.length === 1 ? 'Remove a marker' : `Remove ${ids.length} markers`),
  apply(draft, { place, ids }) {
    const marks = marksOf(draft, place);
    for (const id of ids) {
      const index = marks.findIndex((m) => m.id === id);
      if (index >= 0) marks.splice(index, 1);
    }
  },
});
