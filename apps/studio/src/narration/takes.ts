import type { Peaks } from '@flimzy/core/analyse';
import type { MediaFacts } from '@flimzy/core/piece';
import { samplesAfter, WAV_HEADER } from '@flimzy/core/sound';
import { fromSamples, SAMPLE_RATE, toSeconds } from '@flimzy/core/time';
import { z } from 'zod';
import { call, CallFailed } from '../api/client';
import { KEYS, queryClient } from '../api/queries';
import { sendFile } from '../api/uploads';
import { say } from '../look/Toast';
import { edit, useEditor } from '../open/editor';
import type { TakeNote } from './messages';
import { FOLDER, fileOf, noteOf } from './sink';

const Note: z.ZodType<TakeNote> = z.object({
  id: z.uuid(),
  name: z.string().min(1).max(200),
  piece: z.string(),
  inside: z.string().nullable(),
  of: z.string(),
  at: z.number().int().nonnegative(),
});

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Files of this device that are heard until the server has them. */
const lent = new Map<string, Blob>();
useEditor.subscribe(({ engine }, before) => {
  if (engine && engine !== before.engine) for (const [id, file] of lent) engine.lend(id, file);
});

function lend(id: string, file: Blob | null): void {
  if (file) lent.set(id, file);
  else lent.delete(id);
  useEditor.getState().engine?.lend(id, file);
}

/** What a piece knows of a take of so many samples. */
export const factsOf = ({ id, name }: Pick<TakeNote, 'id' | 'name'>, samples: number): MediaFacts => ({
  id,
  name,
  kind: 'sound',
  length: fromSamples(samples),
  width: 0,
  height: 0,
  rate: null,
  hasSound: true,
});

/** Runs work on a take that no other window of this device works on; false when one does. */
export async function alone(id: string, work: () => Promise<void>): Promise<boolean> {
  const locks = navigator.locks as LockManager | undefined;
  if (!locks) return work().then(() => true);
  return locks.request(`flimzy.take.${id}`, { ifAvailable: true }, async (lock) => {
    if (lock) await work();
    return lock !== null;
  });
}

async function folder(): Promise<FileSystemDirectoryHandle | null> {
  const root = await navigator.storage?.getDirectory?.().catch(() => null);
  return (await root?.getDirectoryHandle(FOLDER).catch(() => null)) ?? null;
}

/** Forgets the files of a take: it is on the server, or nobody wants it. */
export async function forget(id: string): Promise<void> {
  const place = await folder();
  for (const name of [fileOf(id), noteOf(id)]) await place?.removeEntry(name).catch(() => undefined);
}

/** The item as the server has it; null when it has none, or cannot be asked. */
const onServer = (id: string) =>
  call('getMedia', { params: { id } }).catch((error: unknown) => {
    if (error instanceof CallFailed) return null;
    throw error;
  });

/**
 * Brings a take to the server, however long that takes; until the server can play it, it is heard and seen from the file here. When it
 * cannot be brought there, it stays here for the next time that the piece is opened.
 */
export async function deliver(note: TakeNote, file: Blob, peaks: readonly Peaks[] = []): Promise<void> {
  for (const { bin, data } of peaks) queryClient.setQueryData(['peaks', note.id, bin], data);
  lend(note.id, file);
  const named = new File([file], `${note.name}.wav`, { type: 'audio/wav', lastModified: 0 });
  if (!(await onServer(note.id)) && !(await sendFile(named, note.id)) && !(await onServer(note.id))) return;
  for (let item = await onServer(note.id); !item || item.status === 'preparing'; item = await onServer(note.id)) await pause(1000);
  lend(note.id, null);
  await forget(note.id);
  void queryClient.invalidateQueries({ queryKey: KEYS.media });
}

/** A recording this short is a slip of the finger when it has no place, in samples: a fifth of a second. */
export const SLIP = SAMPLE_RATE / 5;

/** The notes of the takes that are on this device, and how to read a file beside them. */
async function takesHere(): Promise<{ notes: TakeNote[]; read: (file: string) => Promise<File> }> {
  const place = await folder();
  const read = async (file: string) => {
    if (!place) throw new Error('this device keeps no files');
    return (await place.getFileHandle(file)).getFile();
  };
  const notes: TakeNote[] = [];
  if (!place) return { notes, read };
  const names: string[] = [];
  for await (const name of (place as unknown as { keys(): AsyncIterable<string> }).keys()) names.push(name);
  for (const name of names.filter((one) => one.endsWith('.json'))) {
    const written: unknown = await read(name)
      .then(async (file) => JSON.parse(await file.text()) as unknown)
      .catch(() => null);
    const note = Note.safeParse(written);
    if (note.success) notes.push(note.data);
  }
  return { notes, read };
}

/** Takes on this device of pieces that are not there any more, which nobody will send. */
export async function takesWithout(pieces: readonly string[]): Promise<{ note: TakeNote; file: File }[]> {
  const { notes, read } = await takesHere();
  const left = notes.filter(({ piece }) => !pieces.includes(piece));
  const found = await Promise.all(
    left.map((note) =>
      read(fileOf(note.id)).then(
        (file) => ({ note, file }),
        () => null,
      ),
    ),
  );
  return found.filter((one) => one !== null);
}

/** Takes up what a page left behind when it was closed: recordings of a piece that were not sent yet, or that were cut off. */
export async function recover(piece: string): Promise<void> {
  const { notes, read } = await takesHere();
  for (const data of notes.filter((note) => note.piece === piece)) {
    void alone(data.id, async () => {
      const file = await read(fileOf(data.id)).catch(() => null);
      const samples = file ? samplesAfter(await file.slice(0, WAV_HEADER).arrayBuffer()) : 0;
      const known = useEditor.getState().session?.current.piece.shelf?.some((entry) => entry.media.id === data.id);
      if (!file || samples < SLIP) return forget(data.id);
      if (!known) {
        const cut = { ...data, name: `${data.name}, cut off` };
        if (!edit('keepTake', { media: factsOf(cut, samples), take: { of: data.of, at: data.at } })) return;
        say(
          `${toSeconds(fromSamples(samples)).toFixed(1)} s that were recorded when the page was closed are on the shelf as “${cut.name}”.`,
        );
        return deliver(cut, file);
      }
      return deliver(data, file);
    });
  }
}
