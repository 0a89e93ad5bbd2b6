import { createHash, randomBytes } from 'node:crypto';
import { readFile, rename, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';

/** What is said of a video when it is announced. */
export const Announced = z.object({
  title: z.string().trim().min(1).max(200),
  description: z.string().max(5000).default(''),
  tags: z.array(z.string().min(1).max(40)).max(30).default([]),
  /** What is said in it, as WebVTT. */
  captions: z.string().startsWith('WEBVTT').max(400_000).nullable().default(null),
  /** Bytes of the file that will follow. */
  size: z.number().int().positive(),
});
export type Announced = z.infer<typeof Announced>;

const Video = Announced.extend({
  id: z.string(),
  platform: z.string(),
  /** Whose it is: the hash of the token. */
  owner: z.string(),
  /** What the one who announced it calls it: announced again under the same key, it is the same video. */
  key: z.string(),
  state: z.enum(['waiting', 'processing', 'live', 'refused']),
  reasons: z.array(z.string()),
  at: z.string(),
});
export type Video = z.infer<typeof Video>;

const Book = z.object({
  /** Who holds which token: its hash, the platform, and what they are called. */
  people: z.record(z.string(), z.object({ platform: z.string(), name: z.string() })),
  videos: z.record(z.string(), Video),
});

export const hashOf = (token: string) => createHash('sha256').update(token).digest('hex');

/** Everything a platform knows, in one file that is written anew with every change. */
export class PlatformBook {
  private writing: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly file: string,
    private readonly all: z.infer<typeof Book>,
  ) {}

  static async open(folder: string): Promise<PlatformBook> {
    const file = path.join(folder, 'book.json');
    const text = await readFile(file, 'utf8').catch(() => '{"people":{},"videos":{}}');
    return new PlatformBook(file, Book.parse(JSON.parse(text)));
  }

  private keep(): Promise<void> {
    const text = JSON.stringify(this.all);
    const mine = this.writing.then(async () => {
      await writeFile(`${this.file}.new`, text);
      await rename(`${this.file}.new`, this.file);
    });
    this.writing = mine.catch(() => undefined);
    return mine;
  }

  /** A new token for someone. */
  async token(platform: string, name: string): Promise<string> {
    const token = `${platform}-${randomBytes(24).toString('base64url')}`;
    this.all.people[hashOf(token)] = { platform, name };
    await this.keep();
    return token;
  }

  /** Makes every token of a platform worthless. */
  async forget(platform: string): Promise<void> {
    this.all.people = Object.fromEntries(Object.entries(this.all.people).filter(([, person]) => person.platform !== platform));
    await this.keep();
  }

  person(platform: string, token: string): { owner: string; name: string } | null {
    const owner = hashOf(token);
    const person = this.all.people[owner];
    return person?.platform === platform ? { owner, name: person.name } : null;
  }

  video(id: string): Video | null {
    return this.all.videos[id] ?? null;
  }

  announcedAs(owner: string, key: string): Video | null {
    return Object.values(this.all.videos).find((video) => video.owner === owner && video.key === key) ?? null;
  }

  live(platform: string): Video[] {
    return Object.values(this.all.videos).filter((video) => video.platform === platform && video.state === 'live');
  }

  async put(video: Video): Promise<Video> {
    this.all.videos[video.id] = video;
    await this.keep();
    return video;
  }

  /** Those that had arrived when the service ended. */
  processing(): Video[] {
    return Object.values(this.all.videos).filter(({ state }) => state === 'processing');
  }
}
