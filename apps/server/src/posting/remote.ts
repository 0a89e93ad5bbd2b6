import { createReadStream } from 'node:fs';
import { DetailedError, Upload } from 'tus-js-client';
import { z } from 'zod';
import type { About } from '@flimzy/core/piece';
import { jsonOrNull } from '../files/json';

/** The longest answer of a platform that is read, in bytes, and the longest that one is waited for, in ms. */
const ANSWER_LONGEST = 256 * 1024;
const PATIENCE = 20_000;

/** The platform no longer takes the token. */
export class SignedOut extends Error {
  override name = 'SignedOut';
}

/** The platform says no, and will say so again. */
export class SaysNo extends Error {
  override name = 'SaysNo';
}

/** It cannot be done just now: the platform is away, busy, or asks to wait so many seconds. */
export class NotNow extends Error {
  override name = 'NotNow';
  constructor(
    sentence: string,
    readonly seconds: number | null = null,
  ) {
    super(sentence);
  }
}

const Listed = z
  .array(
    z.object({
      id: z.string().regex(/^[a-z0-9-]{1,40}$/),
      name: z.string().min(1).max(60),
      about: z.string().max(200),
      titleLongest: z.number().int().positive().max(1000),
    }),
  )
  .max(50);
const Person = z.object({ name: z.string().min(1).max(100) });
const Shown = z.object({
  id: z.string().regex(/^[A-Za-z0-9_-]{1,100}$/),
  state: z.enum(['waiting', 'processing', 'live', 'refused']),
  reasons: z.array(z.string().max(500)).max(20),
  upload: z.string().max(2000).nullable(),
  page: z.string().max(2000).nullable(),
});
/** What a platform is told of a video before it gets it: its size in bytes, and its captions (WebVTT) where they go beside it. */
export type Announcement = About & { size: number; captions: string | null };
/** What a platform says of a video. */
export type Shown = z.infer<typeof Shown>;
const Trouble = z.object({ message: z.string().max(500) });

/**
 * The service that posts go to. What it answers is not trusted: only its own address is ever asked or linked to, no redirect is
 * followed, long answers are cut off, and words of it are shown as words.
 */
export class Remote {
  private readonly base: string;

  /** @param address of the service, as it was given at the start */
  constructor(address: string) {
    const { origin, pathname } = new URL(address);
    this.base = origin + pathname.replace(/\/$/, '');
  }

  tokenPage = (platform: string): string => `${this.base}/${platform}/token`;

  /** An address that the service gave, if it is one of its own. @throws SaysNo */
  private own(address: string): string {
    const given = URL.canParse(address) ? new URL(address) : null;
    if (!given || !given.href.startsWith(`${this.base}/`) || given.username || given.password)
      throw new SaysNo('The platform answered with an address that is not its own, so nothing was sent there.');
    return given.href;
  }

  private async ask<T>(
    path: string,
    schema: z.ZodType<T>,
    how: { token?: string; key?: string; body?: unknown; signal?: AbortSignal } = {},
  ): Promise<T> {
    const { token, key, body, signal } = how;
    const patience = AbortSignal.timeout(PATIENCE);
    let status = 0;
    let after: string | null = null;
    let answer: unknown;
    try {
      const response = await fetch(this.base + path, {
        method: body === undefined ? 'GET' : 'POST',
        redirect: 'error',
        signal: signal ? AbortSignal.any([signal, patience]) : patience,
        headers: {
          accept: 'application/json',
          ...(token ? { authorization: `Bearer ${token}` } : {}),
          ...(key ? { 'idempotency-key': key } : {}),
          ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
      ({ status } = response);
      after = response.headers.get('retry-after');
      answer = await jsonOf(response);
    } catch (error) {
      signal?.throwIfAborted();
      if (error instanceof SaysNo) throw error;
      throw new NotNow('The platform does not answer just now.');
    }
    judge(status, after, Trouble.safeParse(answer).data?.message);
    const read = schema.safeParse(answer);
    if (!read.success) throw new SaysNo('The platform answered with something that makes no sense.');
    return read.data;
  }

  platforms = () => this.ask('/api/platforms', Listed);
  person = (platform: string, token: string) => this.ask(`/api/${platform}/me`, Person, { token });

  /** Announces a video; announced again under the same key, it is the same one. */
  announce(platform: string, token: string, key: string, video: Announcement, signal: AbortSignal): Promise<Shown> {
    return this.ask(`/api/${platform}/videos`, Shown, { token, key, body: video, signal }).then((shown) => this.checked(shown));
  }

  state(platform: string, token: string, video: string, signal: AbortSignal): Promise<Shown> {
    return this.ask(`/api/${platform}/videos/${video}`, Shown, { token, signal }).then((shown) => this.checked(shown));
  }

  private checked(shown: Shown): Shown {
    return {
      ...shown,
      upload: shown.upload === null ? null : this.own(shown.upload),
      page: shown.page === null ? null : this.own(shown.page),
    };
  }

  /** Sends a file to where the platform takes it, from where it stopped. Resolves when the platform has said that all of it is there. */
  send(
    uploadUrl: string,
    token: string,
    file: string,
    size: number,
    onProgress: (share: number) => void,
    signal: AbortSignal,
  ): Promise<void> {
    return new Promise((resolve, reject) => {
      const upload = new Upload(createReadStream(file), {
        uploadUrl: this.own(uploadUrl),
        uploadSize: size,
        chunkSize: 8 * 1024 ** 2,
        headers: { authorization: `Bearer ${token}` },
        // Whoever asked tries again, and says so meanwhile.
        retryDelays: [],
        onProgress: (sent) => onProgress(sent / Math.max(1, size)),
        onSuccess: () => resolve(),
        onError: (error) => {
          const response = error instanceof DetailedError ? error.originalResponse : undefined;
          try {
            if (response) judge(response.getStatus(), response.getHeader('retry-after') ?? null, undefined);
            reject(new NotNow('The connection to the platform broke.'));
          } catch (judged) {
            reject(judged as Error);
          }
        },
      });
      const stop = () => {
        void upload.abort().catch(() => undefined);
        reject(signal.reason as Error);
      };
      signal.addEventListener('abort', stop, { once: true });
      upload.start();
    });
  }
}

/** What a status says. @throws SignedOut, SaysNo, NotNow */
function judge(status: number, after: string | null, message: string | undefined): void {
  if (status < 400) return;
  if (status === 401) throw new SignedOut('The platform no longer takes the token: sign in there again.');
  const seconds = after !== null && /^\d{1,5}$/.test(after) ? Number(after) : null;
  if (status === 429) throw new NotNow('The platform asks to wait a little.', seconds ?? 30);
  if (status >= 500) throw new NotNow('The platform is busy just now.', seconds);
  throw new SaysNo(message ? `The platform says: ${message}` : `The platform does not take it (${status}).`);
}

/** The JSON of an answer that is not too long. */
async function jsonOf(response: Response): Promise<unknown> {
  const parts: Uint8Array[] = [];
  let length = 0;
  for await (const part of (response.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    length += part.length;
    if (length > ANSWER_LONGEST) throw new SaysNo('The platform answered with far too much.');
    parts.push(part);
  }
  return jsonOrNull(Buffer.concat(parts).toString());
}
