import { captionStretches, onFrames, spreadText, type Span } from '@flimzy/core/analyse';
import { readCaptions } from '@flimzy/core/formats';
import { clipEnd, isCaptions, isRead, pieceLength, UNWRITTEN, type Clip, type Cue, type Piece } from '@flimzy/core/piece';
import { speechOf } from '@flimzy/core/sound';
import { frameLength, fromSeconds, toGrid, type Flicks } from '@flimzy/core/time';
import { pickFiles } from '../look/pickFiles';
import { say } from '../look/Toast';
import { useDucking } from '../open/ducking';
import { currentPiece, edit, undo, useEditor } from '../open/editor';

/** How long a caption is that is written where nothing else says so. */
const LENGTH = fromSeconds(2);

/** The captions on the timeline that is shown, in order of time. */
export const captionsOn = (piece: Pick<Piece, 'tracks'>): Clip[] =>
  piece.tracks
    .filter(isCaptions)
    .flatMap(({ clips }) => clips.filter(isRead))
    .sort((a, b) => a.start - b.start);

/** When someone speaks on the timeline that is shown, as far as it was listened to. */
export function spokenOn(piece: Piece): readonly Span[] {
  const { session } = useEditor.getState();
  return session ? speechOf(session.current.piece, piece, useDucking.getState().hearing).spans : [];
}

/** When the piece ends but for its captions; it has no end while nothing else is on it. */
function endOf(piece: Piece): Flicks {
  const end = pieceLength({ tracks: piece.tracks.filter((track) => !isCaptions(track)) });
  return end > 0 ? end : Infinity;
}

/** Writes captions, as far as the piece goes, or instead of those that are there; offers to take that back. */
function write(piece: Piece, cues: readonly Cue[], instead: boolean): boolean {
  const { inside } = useEditor.getState();
  const end = endOf(piece);
  const within = cues.filter(({ from }) => from < end);
  if (within.length === 0) {
    if (cues.length > 0) say('The piece has ended by then.');
    return false;
  }
  const written = within.map(({ from, to, text }) => ({ at: from, length: Math.min(to, end) - from, text }));
  const done = edit('caption', { inside, cues: written, instead });
  if (done && written.length > 1) say(`${written.length} captions.`, { label: 'Undo', run: undo });
  return done;
}

/** Lays what someone wrote over the time in which they speak. */
export function spread(text: string): boolean {
  const piece = currentPiece();
  if (!piece) return false;
  const cues = spreadText(text, spokenOn(piece), piece.format.rate, useEditor.getState().playhead);
  return write(piece, cues, true);
}

/** A caption to be written for each phrase that is spoken and has none yet. */
export function onePerPhrase(): boolean {
  const piece = currentPiece();
  if (!piece) return false;
  const there = captionsOn(piece);
  const free = captionStretches(spokenOn(piece), piece.format.rate).filter(
    ([from, to]) => !there.some((clip) => clip.start < to && clipEnd(clip) > from),
  );
  if (free.length === 0) {
    say('Every phrase that is heard has a caption.');
    return false;
  }
  return write(
    piece,
    free.map(([from, to]) => ({ from, to, text: UNWRITTEN })),
    false,
  );
}

/** A caption at the playhead, up to the next one. */
export function captionHere(): boolean {
  const piece = currentPiece();
  if (!piece) return false;
  const { playhead } = useEditor.getState();
  const there = captionsOn(piece);
  const from = there.find((clip) => clip.start <= playhead && clipEnd(clip) > playhead);
  if (from) {
    say('There is a caption here already.');
    return false;
  }
  const next = there.find((clip) => clip.start > playhead)?.start ?? Infinity;
  const to = Math.min(next, playhead + Math.max(frameLength(piece.format.rate), toGrid(LENGTH, piece.format.rate)));
  return write(piece, [{ from: playhead, to, text: UNWRITTEN }], false);
}

/** The largest file of captions that is read, in bytes. */
const LARGEST = 4 * 1024 ** 2;

/** Brings in captions from a file, instead of those that are there. */
export function bringInFile(): void {
  pickFiles('.srt,.vtt,text/vtt,application/x-subrip', false, 'captions-file', ([file]) => {
    const read = async (one: File) => {
      const piece = currentPiece();
      if (!piece) return;
      if (one.size > LARGEST) return say(`“${one.name}” is too large for a file of captions.`);
      const { cues, passedOver } = readCaptions(await one.text());
      const fitting = onFrames(cues, piece.format.rate).slice(0, 5_000);
      if (fitting.length === 0) return say(`“${one.name}” has no captions in it: SRT and WebVTT are read.`);
      const late = fitting.filter(({ from }) => from >= endOf(piece)).length;
      if (!write(piece, fitting, true) || passedOver + late === 0) return;
      const why = [passedOver > 0 ? `${passedOver} make no sense` : '', late > 0 ? `${late} begin after the piece has ended` : ''];
      say(`${fitting.length - late} captions; of the others in the file ${why.filter(Boolean).join(', and ')}.`, {
        label: 'Undo',
        run: undo,
      });
    };
    if (file) void read(file).catch(() => say(`“${file.name}” could not be read.`));
  });
}
