import { Energies } from '@flimzy/core/analyse';
import { UNDER } from '@flimzy/core/properties';
import { duckLines, LOUDNESS_STEP, lufs, mix, type Hearing, type HearingReader, type PcmReader } from '@flimzy/core/sound';
import { FLICKS_PER_SAMPLE } from '@flimzy/core/time';
import { addFrames, does, emptyPiece, MUSIC } from '../packages/core/test/making';
import { row } from './figures';

/** Steps around one that its loudness is taken over, as the mixer does: 1.5 s on either side. */
const AROUND = 15;

/**
 * How far speech stands over music that makes way for it, in what is mixed: in the share of the steps (100 ms) in which someone really
 * speaks that is within 1 LU of what was asked for, or more where the music was softer than that by itself.
 * @param truth whether someone speaks in each step
 */
export function duckingOf(
  name: string,
  voice: Float32Array,
  music: Float32Array,
  hear: (samples: Float32Array) => Hearing,
  truth: readonly boolean[],
): void {
  const VOICE = { ...MUSIC, id: 'v', name: 'Voice' };
  const long = Float32Array.from(voice, (_, i) => music[i % music.length] as number);
  const sounds: Record<string, Float32Array> = { v: voice, m: long };
  const read: PcmReader = (media, from, count) => {
    const samples = (sounds[media] ?? voice).slice(from, from + count);
    return { left: samples, right: samples };
  };
  const heard: Record<string, Hearing> = { v: hear(voice), m: hear(long) };
  const hearing: HearingReader = (media) => heard[media] ?? null;
  const frames = Math.floor(voice.length / 1_600);
  const length = voice.length * FLICKS_PER_SAMPLE;
  const onTrack = (piece: ReturnType<typeof emptyPiece>, media: typeof MUSIC, track: string) =>
    addFrames(piece, { ...media, length }, 0, frames, track);
  const two = does(emptyPiece(), 'addTrack', { kind: 'sound', index: 9, inside: null });
  const [first, second] = two.tracks.filter(({ kind }) => kind === 'sound').map(({ id }) => id) as [string, string];
  const spoken = does(onTrack(onTrack(two, VOICE, first), MUSIC, second), 'setTrack', { track: first, set: { role: 'speech' } });
  const piece = does(spoken, 'setTrack', { track: second, set: { role: 'music', under: UNDER } });
  const lines = duckLines(piece, hearing);
  const energiesOf = (track: string, ducked: boolean) => {
    const energies = new Energies();
    const alone = does(does(piece, 'setTrack', { track, set: { solo: true } }), 'setSound', { limited: false });
    energies.push(mix(alone, 0, frames * 1_600, read, ducked ? { lines } : {}));
    return energies.steps;
  };
  const [said, plain, played] = [energiesOf(first, false), energiesOf(second, false), energiesOf(second, true)];
  const steps = played.flatMap((_, i) => (truth[i] && truth[i - 1] && truth[i + 1] ? [i] : []));
  const around = (energies: readonly number[], i: number, only: boolean) => {
    const near = energies.slice(Math.max(0, i - AROUND), i + AROUND + 1).filter((_, k) => !only || truth[Math.max(0, i - AROUND) + k]);
    return lufs(near.reduce((sum, one) => sum + one, 0) / Math.max(1, near.length));
  };
  /** How far the speech around a step stands over the music there, were the music throughout as loud, against itself, as in that step. */
  const over = (i: number) => around(said, i, true) - (around(plain, i, false) + lufs(played[i] as number) - lufs(plain[i] as number));
  const kept = steps.filter((i) => over(i) >= UNDER.below - 1).length / steps.length;
  const exact = steps.filter((i) => {
    const left = lufs(plain[i] as number) - lufs(played[i] as number) < 0.05;
    return Math.abs(over(i) - UNDER.below) <= 1 || (left && over(i) > UNDER.below);
  }).length;
  const jumps = Math.max(...played.slice(1).map((_, i) => Math.abs(down(played, plain, i + 1) - down(played, plain, i))));
  const percent = (share: number) => `${(share * 100).toFixed(1)} %`;
  row(`${name}: 12 LU over music kept / within 1 LU of it`, `${percent(kept)} / ${percent(exact / steps.length)}`, 'bar 95 %');
  const far = steps.map(over).sort((a, b) => a - b);
  const quantile = (share: number) => (far[Math.round(share * (far.length - 1))] ?? NaN).toFixed(1);
  row('  2 % / half / 98 % of the steps under, LU', [0.02, 0.5, 0.98].map(quantile).join(' / '));
  row('  steepest, LU in 100 ms', jumps.toFixed(1));
}

/** How far music is taken down in a step, in LU. */
const down = (played: readonly number[], plain: readonly number[], i: number) =>
  (plain[i] ?? 0) > 0 && (played[i] ?? 0) > 0 ? lufs(plain[i] as number) - lufs(played[i] as number) : 0;

/** Whether someone speaks throughout each step, by what is known of frames so many samples long. */
export const stepsOf = (truth: readonly boolean[], frame: number): boolean[] =>
  Array.from({ length: Math.floor((truth.length * frame) / LOUDNESS_STEP) }, (_, i) => {
    const each = LOUDNESS_STEP / frame;
    return truth.slice(i * each, (i + 1) * each).every(Boolean);
  });
