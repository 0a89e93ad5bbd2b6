import { paced, paceReach, silence, type SoundPace, type Stereo } from '@flimzy/core/sound';
import { fromBlocks } from './blocks';

/** Samples mixed at a time: 0.17 s; and in a step of the meters: 43 ms. */
export const BLOCK = 8_192;
export const STEP = 2_048;

/** A stretch of {@link BLOCK} samples as it was mixed: with the highest sample of every step, of each track and of the clip that is watched. */
export interface Mixed {
  sound: Stereo;
  tracks: Record<string, number[]>;
  clip: number[];
  /** The least gain of the limiter. */
  limited: number;
}

/** What is mixed ahead of what plays: as it is, or at half or double speed with its pitch kept. */
export class Ahead {
  private readonly blocks = new Map<number, Mixed>();
  private readonly known = new Map<number, Int16Array>();
  private readonly pace: SoundPace;

  /** @param mixAt mixes a block that begins at a sample of the piece */
  constructor(
    speed: number,
    private readonly mixAt: (sample: number) => Promise<Mixed>,
  ) {
    this.pace = { speed, pitch: 'kept' };
  }

  /** The piece is another one now. */
  forget(): void {
    this.blocks.clear();
    this.known.clear();
  }

  /**
   * The block that begins so many samples after playing from a sample of the piece did; null when it is not wanted any more.
   * @param wanted asked after everything that takes time
   */
  async block(from: number, played: number, wanted: () => boolean): Promise<Mixed | null> {
    const { pace, blocks } = this;
    if (pace.speed === 1) return this.mixAt(from + played);
    const first = Math.round(from / pace.speed) + played;
    const [low, high] = paceReach(pace, first, first + BLOCK);
    const lowest = Math.max(0, Math.floor(low / BLOCK));
    for (const n of blocks.keys()) if (n < lowest) blocks.delete(n);
    for (let n = lowest; n * BLOCK < high; n += 1) {
      if (!blocks.has(n)) blocks.set(n, await this.mixAt(n * BLOCK));
      if (!wanted()) return null;
    }
    const sound =
      paced((a, b) => fromBlocks(BLOCK, a, b, (n) => blocks.get(n)?.sound ?? null), pace, this.known)(first, first + BLOCK) ??
      silence(BLOCK);
    return { ...this.meters(first), sound };
  }

  /** What the meters show in the steps of a block: that of the nearest step of the piece. */
  private meters(first: number): Omit<Mixed, 'sound'> {
    const out: Omit<Mixed, 'sound'> = { tracks: {}, clip: [], limited: 1 };
    for (let k = 0; k < BLOCK / STEP; k += 1) {
      const sample = Math.max(0, Math.round((first + k * STEP) * this.pace.speed));
      const mixed = this.blocks.get(Math.floor(sample / BLOCK));
      const step = Math.floor((sample % BLOCK) / STEP);
      for (const [id, peaks] of Object.entries(mixed?.tracks ?? {})) (out.tracks[id] ??= [0, 0, 0, 0])[k] = peaks[step] ?? 0;
      out.clip.push(mixed?.clip[step] ?? 0);
      out.limited = Math.min(out.limited, mixed?.limited ?? 1);
    }
    return out;
  }
}
