import { mkdir } from 'node:fs/promises';
import path from 'node:path';

/** Where things stand in the data folder. Names come only from ids made here and checked by the contract, never from a client's words. */
export class DataFolder {
  constructor(readonly root: string) {}

  readonly database = () => path.join(this.root, 'database');
  /** What was written down beside the database, and dumps of it. */
  readonly journal = () => path.join(this.root, 'journal');
  readonly dumps = () => path.join(this.root, 'backups');
  /** There while a server works on the folder. */
  readonly marker = () => path.join(this.root, 'running.json');
  /** What cookies are signed with, and tokens of platforms sealed. */
  readonly secret = () => path.join(this.root, 'secret');
  /** The server's own certificate, and its key. */
  readonly certificate = () => path.join(this.root, 'certificate.pem');
  readonly uploads = () => path.join(this.root, 'uploads');
  /** Archives of pieces that are brought in. */
  readonly archives = () => path.join(this.root, 'archives');
  readonly segments = () => path.join(this.root, 'segments');
  readonly posters = () => path.join(this.root, 'posters');
  readonly deliveries = () => path.join(this.root, 'deliveries');
  readonly media = () => path.join(this.root, 'media');
  readonly medium = (id: string) => path.join(this.media(), id);
  readonly file = (id: string, name: MediaFile) => path.join(this.medium(id), name);

  async make(): Promise<void> {
    await mkdir(this.root, { recursive: true, mode: 0o700 });
    for (const folder of [
      this.uploads(),
      this.archives(),
      this.segments(),
      this.posters(),
      this.deliveries(),
      this.media(),
      this.dumps(),
      this.journal(),
    ])
      await mkdir(folder, { recursive: true, mode: 0o700 });
  }
}

/** The files of one media item: the original, and what was made from it. */
export type MediaFile =
  | 'original'
  | 'proxy.mp4'
  | 'proxy.webm'
  /** Of what is interlaced, besides: its fields as they were recorded. */
  | 'proxy-fields.mp4'
  | 'proxy.jpg'
  | 'proxy.png'
  | 'sound.pcm'
  | 'hearing.json'
  | 'light.rgb'
  | 'filmstrip.jpg'
  | 'tiles'
  | `peaks-${number}`
  /** What stands in for the original of a photo, or of a moving file of pictures, when exports are drawn. */
  | 'picture.jpg'
  | 'picture.png'
  | 'moving.mp4'
  | 'moving.mov';
