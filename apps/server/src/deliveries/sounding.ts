import path from 'node:path';
import type { DeliverySettings, PartOfPiece } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { makesWay } from '@flimzy/core/sound';
import { toSamples } from '@flimzy/core/time';
import { thread } from '../files/thread';
import type { DataFolder } from '../media/folders';
import { hearingOf } from '../media/hearing';
import { ffmpeg } from '../media/run';
import type { MediaRow } from '../media/store';
import { soundEncoding } from './encoding';
import type { MixdownTask } from './mixdown.worker';

/** Containers for sound by itself, as ffmpeg calls them. */
const MUXERS = { aac: 'ipod', opus: 'ogg', mp3: 'mp3', flac: 'flac', wav: 'wav' } as const;

export interface SoundWork {
  folder: DataFolder;
  piece: Piece;
  rows: ReadonlyMap<string, MediaRow>;
  part: PartOfPiece;
  settings: DeliverySettings;
  /** A folder for what is made on the way. */
  scratch: string;
  signal: AbortSignal;
}

/** Mixes and encodes the sound of a stretch of a piece, or of one of its tracks, into a file; null where none is wished for. */
export async function makeSound({ folder, piece, rows, part, settings, scratch, signal }: SoundWork): Promise<string | null> {
  const { sound, track } = settings;
  if (!sound) return null;
  const raw = path.join(scratch, 'mix.f32');
  const target = path.join(scratch, 'sound');
  const files = Object.fromEntries([...rows].filter(([, row]) => row.facts?.hasSound).map(([id]) => [id, folder.file(id, 'sound.pcm')]));
  const hearings: MixdownTask['hearings'] = {};
  if (makesWay(piece)) for (const id of Object.keys(files)) hearings[id] = await hearingOf(folder, id, signal);
  const stretch = { from: toSamples(part.from), to: toSamples(part.to) };
  await thread<MixdownTask>('mixdown', { piece, ...stretch, track, files, hearings, target: raw }, signal);
  const input = ['-f', 'f32le', '-ar', '48000', '-ac', '2', '-i', raw];
  await ffmpeg([...input, ...soundEncoding(sound), '-map_metadata', '-1', '-f', MUXERS[sound.codec], target], { signal });
  return target;
}
