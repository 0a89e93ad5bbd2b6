import { ARCHIVE_PURPOSE, OURS_HEADER, UPLOADS_URL } from '@flimzy/contract';
import { DetailedError, Upload } from 'tus-js-client';
import { create } from 'zustand';
import type { OnItsWayProps } from '../look/OnItsWay';
import { KEYS, queryClient } from './queries';

/** Answers that stay the same however often the same is sent: not let in, too large, of no use, or no room for it. */
const LASTING = new Set([400, 401, 403, 413, 415, 507]);

type Purpose = 'media' | typeof ARCHIVE_PURPOSE;

/** A file on its way to the server. */
export interface Sending extends OnItsWayProps {
  key: string;
  /** What it is sent for: to be on the shelf, or as the archive of a piece. */
  purpose: Purpose;
}

export const useUploads = create<{ sending: Sending[] }>(() => ({ sending: [] }));

/** What is on its way for one purpose. */
export const sentFor = (all: readonly Sending[], purpose: Purpose): Sending[] => all.filter((one) => one.purpose === purpose);

const change = (key: string, values: Partial<Sending>) =>
  useUploads.setState(({ sending }) => ({ sending: sending.map((s) => (s.key === key ? { ...s, ...values } : s)) }));
const drop = (key: string) => useUploads.setState(({ sending }) => ({ sending: sending.filter((s) => s.key !== key) }));

function sentenceFor(error: Error, name: string): string {
  const body = error instanceof DetailedError ? error.originalResponse?.getBody() : undefined;
  try {
    const detail: unknown = body ? JSON.parse(body).detail : null;
    if (typeof detail === 'string') return detail;
  } catch {
    // not from our server
  }
  return `“${name}” could not be sent: the connection broke. Choose it again to go on where it stopped.`;
}

/** Sends files to the shelf, several at once. An upload that was cut off goes on where it stopped when the same file is chosen again. */
export function sendFiles(files: Iterable<File>): void {
  for (const file of files) void sendFile(file);
}

/** Sends the archive of a piece, to be brought in. */
export const sendArchive = (file: File): Promise<boolean> => sendFile(file, undefined, ARCHIVE_PURPOSE);

/** Waits between two tries, in ms; what was made here, and is nowhere else, is tried again for as long as the page is there. */
const DELAYS = [0, 500, 1500, 4000, 8000, 15_000];
const FOR_EVER = [...DELAYS, ...new Array<number>(5_000).fill(15_000)];

/**
 * Sends one file.
 * @param item the id that it gets (a UUID); missing: the server chooses
 * @returns whether it is there; false when it could not be sent, which is told among those on their way
 */
export async function sendFile(file: File, item?: string, purpose: Purpose = 'media'): Promise<boolean> {
  const key = item ?? `${purpose}-${file.name}-${file.size}-${file.lastModified}`;
  if (useUploads.getState().sending.some((s) => s.key === key && !s.error)) return false;
  drop(key);
  let upload: Upload | null = null;
  let settle: (there: boolean) => void = () => undefined;
  const settled = new Promise<boolean>((resolve) => (settle = resolve));
  const fail = (error: string) => {
    change(key, { error });
    settle(false);
  };
  const cancel = () => {
    void upload?.abort(true).catch(() => undefined);
    drop(key);
    settle(false);
  };
  useUploads.setState(({ sending }) => ({
    sending: [...sending, { key, purpose, name: file.name, size: file.size, sent: 0, speed: 0, error: null, cancel }],
  }));
  if (file.size === 0) {
    fail(`“${file.name}” is empty: it has no bytes in it.`);
    return settled;
  }
  const started = performance.now();
  const own = item === undefined ? null : { item };
  const what = purpose === 'media' ? null : { purpose };
  upload = new Upload(file, {
    endpoint: UPLOADS_URL,
    headers: { [OURS_HEADER]: '1' },
    onShouldRetry: (error) => !LASTING.has(error.originalResponse?.getStatus() ?? 0),
    chunkSize: 16 * 1024 ** 2,
    retryDelays: own ? FOR_EVER : DELAYS,
    removeFingerprintOnSuccess: true,
    metadata: { filename: file.name, filetype: file.type, ...own, ...what },
    ...(own ? { fingerprint: () => Promise.resolve(`flimzy-${own.item}`) } : {}),
    onProgress: (sent) => change(key, { sent, speed: (sent / Math.max(1, performance.now() - started)) * 1000 }),
    onSuccess: () => {
      drop(key);
      settle(true);
      void queryClient.invalidateQueries({ queryKey: purpose === 'media' ? KEYS.media : KEYS.arrivals });
    },
    onError: (error) => fail(sentenceFor(error, file.name)),
  });
  const [earlier] = await upload.findPreviousUploads();
  if (earlier) upload.resumeFromPreviousUpload(earlier);
  upload.start();
  return settled;
}
