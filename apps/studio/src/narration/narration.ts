import type { VoiceReading } from '@flimzy/core/analyse';
import { pieceLength } from '@flimzy/core/piece';
import { frameLength, SAMPLE_RATE, toGridBelow, toSamples, type Flicks } from '@flimzy/core/time';
import { v4 as uuid } from 'uuid';
import { create } from 'zustand';
import { say } from '../look/Toast';
import { currentPiece, edit, moveTo, pause, play, select, useEditor } from '../open/editor';
import type { RecordReport, TakeNote } from './messages';
import { BROWSER } from './microphone';
import { Recorder } from './recorder';
import { clipOf, nextName, recordingSpan, withoutTakes } from './places';
import { OWN_VOLUME, setRecording, useRecording } from './settings';
import { alone, deliver, factsOf, forget, SLIP } from './takes';

/** What is going on: before, while and after something is recorded. */
export type Phase = 'closed' | 'opening' | 'ready' | 'measuring' | 'counting' | 'recording' | 'ending' | 'taken';

interface Narration {
  phase: Phase;
  /** Why there is no microphone. */
  trouble: string | null;
  microphones: { id: string; name: string }[];
  reading: VoiceReading | null;
  /** The highest sample just heard. */
  peak: number;
  /** Seconds until it begins. */
  left: number;
  /** Samples recorded by now, and the highest of each step of them. */
  samples: number;
  shape: number[];
  /** What is recorded, or was last. */
  note: TakeNote | null;
}

const NOTHING = { reading: null, peak: 0, left: 0, samples: 0, shape: [] as number[] };

export const useNarration = create<Narration>(() => ({ phase: 'closed', trouble: null, microphones: [], note: null, ...NOTHING }));

const get = useNarration.getState;
const set = useNarration.setState;
let recorder: Recorder | null = null;
let unwatch: () => void = () => undefined;
let counting: ReturnType<typeof setTimeout> | undefined;
/** Lets go of what is recorded, for other windows. */
let letGo: () => void = () => undefined;

/** Opens the microphone that was chosen, or the one that there is. */
export async function openMicrophone(): Promise<void> {
  if (get().phase === 'ending') {
    closing = false; // what was being ended when the panel was closed is shown when it is whole
    return;
  }
  closeMicrophone();
  set({ phase: 'opening', trouble: null, ...NOTHING });
  try {
    const context = await useEditor.getState().engine?.audio();
    if (!context) throw new Error('The preview is not there yet. Try again.');
    const { device } = useRecording.getState();
    // One that was unplugged since is no reason to have none.
    const opened = await Recorder.open(context, device, hear).catch((error: unknown) => {
      if (device === null) throw error;
      return Recorder.open(context, null, hear);
    });
    if (get().phase !== 'opening') return opened.close();
    recorder = opened;
    unwatch = BROWSER.watch(() => void listMicrophones());
    set({ phase: 'ready' });
    await listMicrophones();
  } catch (error) {
    if (get().phase === 'opening')
      set({ phase: 'ready', trouble: error instanceof Error ? error.message : 'The microphone could not be opened.' });
  }
}

async function listMicrophones(): Promise<void> {
  set({ microphones: await BROWSER.list() });
}

/** The microphone that is open. */
export const openDevice = () => recorder?.device ?? '';

export async function chooseMicrophone(id: string): Promise<void> {
  setRecording({ device: id });
  await openMicrophone();
}

/** The microphone is closed as soon as what is recorded is whole. */
let closing = false;

/** Lets go of the microphone; what is being recorded is ended and kept. */
export function closeMicrophone(): void {
  stopRecording();
  if (get().phase === 'ending') closing = true;
  else shut();
}

function shut(): void {
  closing = false;
  clearTimeout(counting);
  unwatch();
  recorder?.close();
  recorder = null;
  useEditor.getState().engine?.setVolume(1);
  set({ phase: 'closed' });
}

/** Steps of what was recorded that are kept for drawing: more than any screen shows. */
const SHAPE = 1_000;

function hear(report: RecordReport | { type: 'gone' }): void {
  switch (report.type) {
    case 'heard':
      return set({ reading: report.reading, peak: report.peak });
    case 'grown':
      return set({ samples: report.samples, shape: [...get().shape.slice(-SHAPE), report.peak] });
    case 'done':
      return void taken(report);
    case 'lost':
      say('What was recorded could not be ended. It comes onto the shelf when the piece is opened again.');
      letGo();
      return over('ready');
    case 'delay':
      return measured(report.samples);
    case 'trouble':
      return say(report.sentence);
    case 'gone':
      set({ trouble: 'The microphone is gone.' });
      clearTimeout(counting);
      if (get().phase === 'recording' || get().phase === 'ending') {
        set({ phase: 'ending' });
        recorder?.stop(null);
      } else if (get().phase !== 'taken') set({ phase: 'ready' });
  }
}

/** How much later than it was played a sample is heard, in samples; whether that was measured. */
export function delay(): { samples: number; measured: boolean } {
  const known = useRecording.getState().delays[openDevice()];
  return known === undefined
    ? { samples: recorder?.guessedDelay ?? 0, measured: false }
    : { samples: Math.round((known / 1000) * SAMPLE_RATE), measured: true };
}

/** How long clicks are listened for at most, in ms: they take a little over four seconds. */
const DEAF = 15_000;
let deaf: ReturnType<typeof setTimeout> | undefined;

/** Measures how long it takes from loudspeaker to microphone. */
export function measureDelay(): void {
  if (!recorder || get().phase !== 'ready') return;
  pause();
  useEditor.getState().engine?.setVolume(1);
  set({ phase: 'measuring' });
  recorder.playClicks();
  deaf = setTimeout(() => measured(null), DEAF); // a microphone that says nothing at all must not be waited for
}

function measured(samples: number | null): void {
  clearTimeout(deaf);
  if (get().phase !== 'measuring') return;
  set({ phase: 'ready' });
  if (samples === null) return say('The clicks were not heard. Turn the sound up, take headphones off, then try again.');
  const ms = (samples / SAMPLE_RATE) * 1000;
  setRecording({ delays: { ...useRecording.getState().delays, [openDevice()]: ms } });
}

/** What is recorded next: where, and the clip that it takes the place of. */
interface Plan {
  note: TakeNote;
  until: Flicks | null;
  instead: string | null;
}
let planned: Plan | null = null;

/** Counts down, then plays the piece from the playhead (or over the chosen stretch) and records. */
export function startRecording(): void {
  pause(); // what plays stands between two frames, and a take begins on one
  const { id, inside, session, ...state } = useEditor.getState();
  const { at, until } = recordingSpan(state);
  const note = { id: uuid(), name: nextName(session?.current.piece), piece: id ?? '', inside, of: uuid(), at };
  begin({ note, until, instead: null });
}

/** Records the same stretch once more; the take before gives way on the timeline and stays on the shelf. */
export function recordAgain(): void {
  if (!planned) return startRecording();
  const { session } = useEditor.getState();
  const clip = clipOf(planned.note.id);
  begin({ ...planned, note: { ...planned.note, id: uuid(), name: nextName(session?.current.piece) }, instead: clip });
}

function begin(plan: Plan): void {
  if (!recorder) return;
  planned = plan;
  pause();
  moveTo(plan.note.at);
  const { ready } = useRecording.getState();
  set({ phase: 'counting', left: ready, samples: 0, shape: [], note: plan.note });
  const count = () => {
    const { left } = get();
    if (left <= 0) return void record(plan);
    counting = setTimeout(
      () => {
        set({ left: left - Math.min(1, left) });
        count();
      },
      Math.min(1, left) * 1000,
    );
  };
  count();
}

/** Takes the countdown back. */
export function cancelCounting(): void {
  clearTimeout(counting);
  set({ phase: 'ready' });
}

async function record({ note, until }: Plan): Promise<void> {
  const { engine } = useEditor.getState();
  const piece = currentPiece();
  if (!recorder || !engine || !piece) return set({ phase: 'ready' });
  void alone(note.id, () => new Promise((resolve) => (letGo = resolve)));
  engine.setVolume(OWN_VOLUME[useRecording.getState().own ?? 'off']);
  engine.setPiece(withoutTakes(piece)); // an edit made meanwhile brings them back; it is the rarer wish
  set({ phase: 'recording' });
  let began: number | null = null;
  if (note.at < pieceLength(piece)) {
    await play(1, null);
    for (let tries = 0; tries < 400 && began === null && useEditor.getState().playing; tries += 1) {
      began = engine.beganAt();
      if (began === null) await new Promise((resolve) => setTimeout(resolve, 5));
    }
  }
  if (get().phase !== 'recording') {
    // It was stopped before anything was asked for.
    letGo();
    return over('ready');
  }
  // Where there is nothing to play, the voice is not in step with anything.
  const first = began === null ? recorder.frame : began + delay().samples;
  recorder.record(note, first, until === null ? null : toSamples(until - note.at));
  if (began !== null) endWithPlaying();
}

/** Playing that is paused ends the recording; playing that comes to the end of the piece does not: the last word may be longer. */
function endWithPlaying(): void {
  const stop = useEditor.subscribe(({ playing, playhead }) => {
    if (get().phase !== 'recording') return stop();
    const piece = currentPiece();
    if (playing) return;
    stop();
    if (piece && playhead < toGridBelow(pieceLength(piece), piece.format.rate) - frameLength(piece.format.rate)) stopRecording();
  });
}

/** Time for what was said last to come through, in ms; after that it is ended with what there is. */
const PATIENCE = 1_500;

export function stopRecording(): void {
  if (get().phase !== 'recording' || !recorder) return;
  set({ phase: 'ending' });
  const mine = recorder;
  mine.stop(mine.frame + delay().samples);
  setTimeout(() => get().phase === 'ending' && mine.stop(null), PATIENCE);
}

/** Nothing is recorded any more: playing ends, the piece is heard as it is, and the microphone of a panel that was closed is let go of. */
function over(phase: 'ready' | 'taken'): void {
  pause();
  const { engine } = useEditor.getState();
  const piece = currentPiece();
  engine?.setVolume(1);
  if (piece) engine?.setPiece(piece);
  if (closing) shut();
  else set({ phase });
}

/** A take is whole: it comes onto the timeline at once, and goes to the server. */
async function taken({ note, samples, peaks, file, safe }: Extract<RecordReport, { type: 'done' }>): Promise<void> {
  const release = letGo;
  if (useEditor.getState().id !== note.piece) {
    // Its piece was left meanwhile: it is found when that is opened again.
    shut();
    return release();
  }
  const { at, of, inside } = note;
  const media = factsOf(note, samples);
  const take = { of, at };
  const placed = edit('narrate', { inside, media, take, instead: planned?.instead ?? null });
  const kept = placed || (samples > SLIP && edit('keepTake', { media, take }));
  set({ samples, note });
  over(placed ? 'taken' : 'ready');
  if (!kept) {
    await forget(note.id);
    return release();
  }
  if (!safe) say('This browser keeps no recording for later: leave the page open until it is sent.');
  select(clipOf(note.id));
  moveTo(at);
  await deliver(note, file, peaks);
  release();
}

/** Plays what was recorded, with the piece. */
export function hearTake(): void {
  const { note } = get();
  if (!note) return;
  moveTo(note.at);
  void play();
}

/** It stays: ready for the next. */
export function keepTake(): void {
  pause();
  planned = null;
  set({ phase: 'ready', note: null, samples: 0, shape: [] });
}
