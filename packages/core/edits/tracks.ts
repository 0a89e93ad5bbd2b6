import { z } from 'zod';
import { findTrack, timelineOf, Track, type Piece } from '../piece';
import { sayEffects, sayLevel, sayPan, withinLevels } from '../properties';
import { defineEdit, EditRefused } from './edit';
import { newTrack } from './lanes';
import { Inside } from './params';

const name = (piece: Piece, id: string) => findTrack(piece, id)?.track.name ?? 'track';

/** @throws EditRefused when the piece no longer has it */
function needTrack(piece: Piece, id: string) {
  const found = findTrack(piece, id);
  if (!found) throw new EditRefused('That track is no longer in the piece.');
  return found;
}

/** Adds an empty track. */
export const addTrack = defineEdit({
  params: z.object({
    inside: Inside,
    kind: Track.shape.kind,
    name: Track.shape.name.optional(),
    index: z.number().int().nonnegative().optional(),
  }),
  title: ({ kind }) => `Add a ${kind} track`,
  apply(draft, { inside, kind, name: called, index }, { plan, newId }) {
    newTrack(plan, draft, inside, kind, newId, called, index);
  },
});

/** Removes tracks with all that is on them, or those of a timeline that are empty. The lowest picture track stays. */
export const removeTracks = defineEdit({
  params: z.object({ tracks: z.array(z.string()).min(1).max(1_000) }),
  title: ({ tracks }, piece) => (tracks.length === 1 ? `Remove track ${name(piece, tracks[0] ?? '')}` : `Remove ${tracks.length} tracks`),
  apply(draft, { tracks }) {
    for (const id of tracks) {
      const { track, index, timeline } = needTrack(draft, id);
      if (track.locked) throw new EditRefused(`“${track.name}” is locked. Unlock the track to remove it.`);
      if (index === 0) throw new EditRefused('The lowest picture track stays: every timeline has one.');
      timeline.tracks.splice(index, 1);
    }
  },
});

/** Sets a figure of a track; its plain value is left out. */
function put(track: Track, figure: 'level' | 'pan', value: number): void {
  if (value) track[figure] = value;
  else Reflect.deleteProperty(track, figure);
}

function flag(track: Track, name: 'hidden' | 'solo' | 'locked' | 'gang', on: boolean): void {
  if (on) track[name] = true;
  else Reflect.deleteProperty(track, name);
}

/** Names, hides, mutes, solos or locks a track, or sets how loud it is and where it stands. What is ganged with it goes along. */
export const setTrack = defineEdit({
  params: z.object({
    track: z.string(),
    set: z.object({
      name: Track.shape.name.optional(),
      muted: z.boolean().optional(),
      hidden: z.boolean().optional(),
      solo: z.boolean().optional(),
      locked: z.boolean().optional(),
      gang: z.boolean().optional(),
      level: Track.shape.level,
      pan: Track.shape.pan,
      /** Null: as it is found, or not at all. */
      role: Track.shape.role.nullable(),
      under: Track.shape.under.nullable(),
      effects: Track.shape.effects,
    }),
  }),
  title: ({ track, set }, piece) => {
    const called = name(piece, track);
    if (set.name !== undefined) return `Rename track to ${set.name}`;
    if (set.muted !== undefined) return `${set.muted ? 'Mute' : 'Unmute'} ${called}`;
    if (set.hidden !== undefined) return `${set.hidden ? 'Hide' : 'Show'} ${called}`;
    if (set.solo !== undefined) return `${set.solo ? 'Solo' : 'End solo of'} ${called}`;
    if (set.gang !== undefined) return set.gang ? `Gang ${called}` : `Take ${called} out of the gang`;
    if (set.level !== undefined) return `Level of track ${called} ${sayLevel(set.level)}`;
    if (set.pan !== undefined) return `Pan of track ${called}: ${sayPan(set.pan)}`;
    if (set.role !== undefined) return set.role ? `${called} is for ${set.role}` : `${called} is for what is found on it`;
    if (set.effects !== undefined) return `Look of track ${called}: ${sayEffects(set.effects)}`;
    if (set.under !== undefined)
      return set.under ? `${called} under speech: ${set.under.below.toFixed(0)} LU below` : `${called} not under speech`;
    return `${set.locked ? 'Lock' : 'Unlock'} ${called}`;
  },
  apply(draft, { track: id, set }) {
    const { track, timeline } = needTrack(draft, id);
    if (track.locked && set.locked !== false) throw new EditRefused(`“${track.name}” is locked. Unlock the track to change it.`);
    if (set.name !== undefined) track.name = set.name;
    const louder = set.level === undefined ? 0 : set.level - (track.level ?? 0);
    const others = timeline.tracks.filter((one) => track.gang && one.gang && one.id !== id && !one.locked);
    for (const one of others) if (louder !== 0) put(one, 'level', withinLevels((one.level ?? 0) + louder));
    for (const one of [track, ...others]) {
      if (set.muted !== undefined) one.muted = set.muted;
      if (set.solo !== undefined) flag(one, 'solo', set.solo);
    }
    for (const figure of ['level', 'pan'] as const) if (set[figure] !== undefined) put(track, figure, set[figure]);
    if (set.role) track.role = set.role;
    else if (set.role === null) delete track.role;
    if (set.effects === 'none') delete track.effects;
    else if (set.effects) track.effects = set.effects;
    if (set.under) track.under = set.under;
    else if (set.under === null) delete track.under;
    for (const name of ['hidden', 'locked', 'gang'] as const) if (set[name] !== undefined) flag(track, name, set[name]);
  },
});

/** Moves a track among those of its kind. What is higher covers what is lower. */
export const orderTrack = defineEdit({
  params: z.object({ track: z.string(), /** Place among the tracks of its kind, 0 for the lowest. */ to: z.number().int().nonnegative() }),
  title: ({ track }, piece) => `Move track ${name(piece, track)}`,
  apply(draft, { track: id, to }) {
    const { track, index, inside } = needTrack(draft, id);
    if (track.locked) throw new EditRefused(`“${track.name}” is locked. Unlock the track to move it.`);
    const tracks = timelineOf(draft, inside)?.tracks ?? [];
    const first = tracks.findIndex((t) => t.kind === track.kind);
    const count = tracks.filter((t) => t.kind === track.kind).length;
    const [taken] = tracks.splice(index, 1);
    if (taken) tracks.splice(first + Math.min(to, count - 1), 0, taken);
  },
});
