import { heardTracks, materialStart, type Piece, type Timeline } from '../piece';
import type { Flicks } from '../time';
import { through, type Processor, type SoundSource } from './chain';
import { fader } from './fader';
import { soundingClips, type Sounding } from './sounding';
import { gainOf, silence, type PcmReader, type Stereo } from './stereo';

/** What is done to a clip's sound, in order. A new processor of clips is one line here. */
function clipChain(one: Sounding): Processor[] {
  return [fader(one)];
}

/**
 * What is heard from sample `from` up to sample `to`: a pure function of the piece and the decoded material, so the preview and
 * the export hear the same. Cutting a range in two and joining the results gives the same samples.
 */
export function mix(piece: Piece, from: number, to: number, read: PcmReader): Stereo {
  return mixTimeline(piece, piece, 0, from, to, read);
}

/** The samples of a timeline that begins at `origin` (flicks) of the piece's own: those of nests are counted on that, too. */
function mixTimeline(piece: Piece, timeline: Timeline, origin: Flicks, from: number, to: number, read: PcmReader): Stereo {
  const out = silence(to - from);
  for (const track of heardTracks(timeline))
    for (const one of soundingClips(piece, track, from, to, origin)) {
      const first = Math.max(from, one.start);
      const sound = through(clipChain(one), sourceOf(piece, one, origin, read), first, Math.min(to, one.end));
      if (sound) addInto(out, sound, first - from);
    }
  return out;
}

/** The material of a clip as a source on the timeline it stands on: decoded sound, or the mix of a nest. */
function sourceOf(piece: Piece, { clip, shift }: Sounding, origin: Flicks, read: PcmReader): SoundSource {
  const nest = piece.nests?.[clip.media];
  if (nest) return (from, to) => mixTimeline(piece, nest, origin + materialStart(clip), from, to, read);
  return (from, to) => {
    const [first, count] = [from + shift, to - from];
    if (first >= 0) return read(clip.media, first, count);
    const sound = first + count > 0 ? read(clip.media, 0, first + count) : null;
    const out = silence(count); // before the material there is nothing
    if (sound) addInto(out, sound, -first);
    return out;
  };
}

function addInto(out: Stereo, sound: Stereo, place: number): void {
  const count = Math.min(sound.left.length, out.left.length - place);
  for (let i = 0; i < count; i += 1) {
    out.left[place + i] = (out.left[place + i] as number) + (sound.left[i] as number);
    out.right[place + i] = (out.right[place + i] as number) + (sound.right[i] as number);
  }
}

/** The stretches of media items that are heard in [from, to), within nests too: what must be fetched before mixing. Samples. */
export function neededSound(piece: Piece, from: number, to: number): { media: string; from: number; to: number }[] {
  return neededBy(piece, piece, 0, from, to);
}

function neededBy(
  piece: Piece,
  timeline: Timeline,
  origin: Flicks,
  from: number,
  to: number,
): { media: string; from: number; to: number }[] {
  return heardTracks(timeline).flatMap((track) =>
    soundingClips(piece, track, from, to, origin).flatMap((one) => {
      const chain = clipChain(one);
      const more = (side: 'before' | 'after') => chain.reduce((sum, processor) => sum + processor[side], 0);
      const [first, last] = [Math.max(from, one.start) - more('before'), Math.min(to, one.end) + more('after')];
      const nest = piece.nests?.[one.clip.media];
      if (nest) return neededBy(piece, nest, origin + materialStart(one.clip), first, last);
      return [{ media: one.clip.media, from: Math.max(0, first + one.shift), to: last + one.shift }];
    }),
  );
}

/** Something that sounds at one moment: its clip (within nests, the clips on the way to it, joined by `/`), the sample of its material, its gain as a factor. */
export interface Heard {
  clip: string;
  media: string;
  sample: number;
  gain: number;
}

/** All that is heard at one sample, within nests too; ramps and crossfades left out. */
export function heardAt(piece: Piece, sample: number): Heard[] {
  return heardIn(piece, piece, 0, sample, '', 1);
}

function heardIn(piece: Piece, timeline: Timeline, origin: Flicks, sample: number, way: string, gain: number): Heard[] {
  return heardTracks(timeline).flatMap((track) =>
    soundingClips(piece, track, sample, sample + 1, origin).flatMap((one) => {
      const loud = gain * gainOf(one.clip.level);
      const nest = piece.nests?.[one.clip.media];
      if (nest) return heardIn(piece, nest, origin + materialStart(one.clip), sample, `${way}${one.clip.id}/`, loud);
      return [{ clip: way + one.clip.id, media: one.clip.media, sample: sample + one.shift, gain: loud }];
    }),
  );
}
