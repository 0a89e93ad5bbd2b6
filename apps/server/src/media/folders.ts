import { mkdir } from 'node:fs/promises';
import path from 'node:path';

/** Where things stand in the data folder. Names come only from ids made here and checked by the contract, never from a client's words. */
export class DataFolder {
  constructor(readonly root: string) {}

  readonly database = () => path.join(this.root, 'database');
  readonly uploads = () => path.join(this.root, 'uploads');
  readonly segments = () => path.join(this.root, 'segments');
  readonly posters = () => path.join(this.root, 'posters');
  readonly deliveries = () => path.join(this.root, 'deliveries');
  readonly medium = (id: string) => path.join(this.root, 'media', id);
  readonly file = (id: string, name: MediaFile) => path.join(this.medium(id), name);

  async make(): Promise<void> {
    await mkdir(this.root, { recursive: true, mode: 0o700 });
    for (const folder of [this.uploads(), this.segments(), this.posters(), this.deliveries(), path.join(this.root, 'media')])
      await mkdir(folder, { recursive: true, mode: 0o700 });
  }
}

/** The files of one media item: the original, and what was made from it. */
export type MediaFile = 'original' | 'proxy.mp4' | 'proxy.jpg' | 'sound.f32' | 'filmstrip.jpg' | 'peaks-256' | 'peaks-2048' | 'peaks-16384';
