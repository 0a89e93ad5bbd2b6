import { fileName, isShipped, PlatformFormat } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { v4 as uuid } from 'uuid';
import { call } from '../api/client';
import { queryClient } from '../api/queries';
import { pickFiles } from '../look/pickFiles';
import { saveFile } from '../look/saveFile';
import { say } from '../look/Toast';
import { edit } from '../open/editor';
import { chosenOf, FORMATS } from '../open/formats';

export const isOwn = (format: PlatformFormat): boolean => !isShipped(format);

/** Makes a piece for a format too, or no longer. */
export function toggleFormat(piece: Piece, format: PlatformFormat, all: readonly PlatformFormat[]): void {
  const now = chosenOf(piece, all);
  const next = now.includes(format) ? now.filter((one) => one !== format) : all.filter((one) => one === format || now.includes(one));
  edit('setFormats', {
    formats: next.map(({ id }) => id),
    named: next
      .map(({ name }) => name)
      .join(', ')
      .slice(0, 400),
  });
}

const refresh = () => queryClient.invalidateQueries({ queryKey: FORMATS });

/** What was asked for last of the server: the next waits for it, so that the later of two changes is the one that stays. */
let asked: Promise<unknown> = Promise.resolve();

/**
 * Changes the formats of one's own: as they are known here at once, since what is typed next goes on from that, and then on the server.
 * @returns whether it could be done; if not it is said, and the list is as the server has it
 */
async function change(here: (own: readonly PlatformFormat[]) => PlatformFormat[], there: () => Promise<unknown>): Promise<boolean> {
  const own = queryClient.getQueryData<PlatformFormat[]>(FORMATS);
  if (own)
    queryClient.setQueryData<PlatformFormat[]>(
      FORMATS,
      here(own).sort((a, b) => (a.id < b.id ? -1 : 1)),
    );
  const mine = asked.then(there);
  asked = mine.catch(() => undefined);
  try {
    await mine;
    if (!own) await refresh();
    return true;
  } catch (error) {
    say((error as Error).message);
    await refresh();
    return false;
  }
}

/** A format of one's own as it is known by now, which may be later than what is shown. */
export const formatNow = (format: PlatformFormat): PlatformFormat =>
  queryClient.getQueryData<PlatformFormat[]>(FORMATS)?.find(({ id }) => id === format.id) ?? format;

const without = (own: readonly PlatformFormat[], { id }: PlatformFormat) => own.filter((one) => one.id !== id);

/** Keeps a format of one's own; whether it could be. */
export const keepFormat = (format: PlatformFormat): Promise<boolean> =>
  change(
    (own) => [...without(own, format), format],
    () => call('saveFormat', { body: format }),
  );

/** Removes a format of one's own, which can be taken back. */
export async function dropFormat(format: PlatformFormat): Promise<void> {
  const gone = await change(
    (own) => without(own, format),
    () => call('deleteFormat', { params: { id: format.id } }),
  );
  if (gone) say(`“${format.name}” is removed.`, { label: 'Undo', run: () => void keepFormat(format) });
}

/** A copy of a format to be changed, under an id that nothing has yet. */
export function copyOf(format: PlatformFormat, all: readonly PlatformFormat[]): PlatformFormat {
  const names = new Set(all.map(({ name }) => name));
  let name = `${format.name}, my own`.slice(0, 60);
  for (let n = 2; names.has(name); n += 1) name = `${format.name}, my own ${n}`.slice(0, 60);
  return { ...format, id: `own-${uuid()}`, name };
}

/** Hands a format over as a JSON file. */
export function exportFormat(format: PlatformFormat): void {
  const json = JSON.stringify(format, null, 2);
  saveFile(new Blob([json], { type: 'application/json' }), fileName(format.name, 'json'));
}

/** Reads formats from the text of a JSON file: one, or a list. @throws Error with a sentence when they are none */
export function readFormats(text: string): PlatformFormat[] {
  let found: unknown;
  try {
    found = JSON.parse(text);
  } catch {
    throw new Error('That file is not JSON.');
  }
  const list = Array.isArray(found) ? found : [found];
  return list.map((one, n) => {
    const read = PlatformFormat.safeParse(one);
    if (read.success) return isOwn(read.data) ? read.data : { ...read.data, id: `own-${uuid()}` };
    const [issue] = read.error.issues;
    const where = issue?.path.join('.') || 'the file';
    throw new Error(
      `${list.length > 1 ? `Format ${n + 1} of the file` : 'That file'} describes no format: ${where}: ${issue?.message ?? 'unreadable'}`,
    );
  });
}

/** Keeps the formats of a file. */
async function bringIn(file: File | undefined): Promise<void> {
  if (!file) return;
  try {
    const formats = readFormats(await file.text());
    for (const format of formats) if (!(await keepFormat(format))) return;
    say(`${formats.map(({ name }) => `“${name}”`).join(', ')}: kept among the formats.`);
  } catch (error) {
    say((error as Error).message);
  }
}

/** Lets a person choose a JSON file with formats, and keeps them. */
export const importFormats = (): void => pickFiles('.json,application/json', false, 'format-input', ([file]) => void bringIn(file));
