import { stat } from 'node:fs/promises';
import PQueue from 'p-queue';
import { LIGHT_CELLS } from '@flimzy/core/analyse';
import { proxyOf } from '../deliveries/pictures';
import { whole } from '../files/whole';
import { fileInput } from './filters';
import type { DataFolder } from './folders';
import { ffmpeg } from './run';
import type { MediaRow } from './store';

/** The file, in an item's folder, of the light of its frames. */
export const LIGHT = 'light.rgb';

/** Looks at items one after the other: it is asked for when a piece is about to be sent, and nobody waits for it. */
export class LightMeter {
  private readonly queue = new PQueue({ concurrency: 1 });
  private readonly asked = new Map<string, Promise<void>>();

  constructor(
    private readonly folder: DataFolder,
    private readonly closing: AbortSignal,
  ) {}

  /** Sees to it that the file is there. @throws ProgramFailed */
  async measure(row: MediaRow): Promise<void> {
    const target = this.folder.file(row.id, LIGHT);
    if (await stat(target).catch(() => null)) return;
    const asked = this.asked.get(row.id) ?? this.queue.add(() => this.look(row, target));
    this.asked.set(row.id, asked);
    await asked.finally(() => this.asked.delete(row.id));
  }

  private look(row: MediaRow, target: string): Promise<void> {
    const signal = this.closing;
    const cells = `scale=${LIGHT_CELLS}:${LIGHT_CELLS}:flags=area,format=rgb24`;
    return whole(target, (to) =>
      ffmpeg(
        [...fileInput(this.folder.file(row.id, proxyOf(row))), '-an', '-vf', cells, '-fps_mode', 'passthrough', '-f', 'rawvideo', to],
        { signal },
      ).then(() => undefined),
    );
  }
}
