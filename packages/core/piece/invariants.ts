import { LONGEST, onGrid, onSampleGrid } from '../time';
import { clipEnd, type Clip } from './clip';
import { itemsOf } from './lookups';
import { hasPicture } from './media';
import { nestsWithin, timelines } from './nests';
import { outsideMaterial } from './pace';
import type { Piece } from './piece';
import type { Track } from './track';

/**
 * What must hold after every edit. Returns a sentence for each thing that does not; an empty list means the piece is sound.
 * Checked in this one place, by the app and the server alike.
 */
export function brokenInvariants(piece: Piece): string[] {
  const broken: string[] = [];
  const ids = new Set<string>();
  const once = (id: string) => {
    if (ids.has(id)) broken.push(`two things have the id ${id}`);
    ids.add(id);
  };
  for (const [id, timeline] of timelines(piece)) {
    if (timeline.tracks[0]?.kind !== 'picture') broken.push('a timeline begins with a picture track');
    let sound = false;
    for (const track of timeline.tracks) {
      once(track.id);
      if (sound && track.kind === 'picture') broken.push(`the picture track ${track.name} stands after a sound track`);
      sound ||= track.kind === 'sound';
      let before: Clip | null = null;
      for (const clip of track.clips) {
        once(clip.id);
        if (before && clip.start < clipEnd(before)) broken.push(`“${clip.name}” would run into “${before.name}” on ${track.name}`);
        before = clip;
        checkClip(piece, track, clip, broken);
      }
    }
    if (id !== null && nestsWithin(piece, timeline).has(id)) broken.push(`the nest “${piece.nests?.[id]?.name}” would show itself`);
  }
  return broken;
}

function checkClip(piece: Piece, track: Track, clip: Clip, broken: string[]): void {
  const media = piece.media[clip.media];
  const { rate } = piece.format;
  if (clip.start < 0) broken.push(`“${clip.name}” would start before the timeline does`);
  if (clipEnd(clip) > LONGEST) broken.push(`“${clip.name}” would end after more than a day`);
  if (!onGrid(clip.start, rate)) broken.push(`“${clip.name}” does not start on a frame`);
  if (!onGrid(clip.length, rate) || clip.length <= 0) broken.push(`“${clip.name}” is not a whole number of frames long`);
  if (!media || itemsOf(clip).some((id) => !piece.media[id]))
    return void broken.push(`“${clip.name}” uses a media item the piece does not know`);
  const outside = outsideMaterial(clip, media);
  if (outside) broken.push(`“${clip.name}” ${outside}`);
  if (track.kind === 'picture' && !hasPicture(media) && media.kind !== 'nest')
    broken.push(`“${clip.name}” has no picture but is on a picture track`);
  if (track.kind === 'sound' && !media.hasSound && media.kind !== 'nest') broken.push(`“${clip.name}” is silent but is on a sound track`);
  const { lead, trail, blend } = clip;
  if (
    (lead !== undefined && !onSampleGrid(lead)) ||
    (trail !== undefined && !onSampleGrid(trail)) ||
    (blend !== undefined && !onSampleGrid(blend))
  )
    broken.push(`a sound edge of “${clip.name}” lies between samples`);
}
