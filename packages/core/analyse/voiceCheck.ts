import { LOUDNESS_STEP, lufs } from '../sound';
import { SAMPLE_RATE } from '../time';
import { Energies, integratedOf } from './loudness';

/** What a voice before a microphone comes to. */
export type Verdict = 'nothing' | 'quiet' | 'fine' | 'loud' | 'hum' | 'noisy';

/** What was heard in the last seconds. */
export interface VoiceReading {
  verdict: Verdict;
  /** Loudness of the voice as it will be heard (on both sides), LUFS; −∞ for nothing. */
  loudness: number;
  /** The highest sample, as a factor of full scale. */
  peak: number;
}

/** How far back a verdict looks, in steps of 100 ms. */
const LOOK = 50;
/** A voice under this is too quiet (LUFS): brought to a usual loudness, its noise would come along. Under the other it is none. */
const QUIET = -36;
const NONE = -58;
/** A peak over this is too loud: −1 dB. The next word may be louder. */
const LOUD = 0.89;
/** What is steady lies at least so far under the voice, in LU. */
const CLEAR = 14;

/** Samples of one look for a hum: a quarter of a second, which fits between words. */
const WINDOW = SAMPLE_RATE / 4;
const MAINS = [50, 60] as const;
const HARMONICS = [1, 2, 3, 4, 5, 6] as const;
/** Hz from a line to where it is compared, where such a window hears nothing of the line itself; how far it stands over that, as a factor of amplitude; and how strong it must be at least: −66 dB. */
const ASIDE = 8;
const STANDS = 4;
const FAINT = 0.0005;

/** A look: how loud it was, and whether it hums with each of the mains. */
interface Look {
  power: number;
  hums: boolean[];
}

/** Whether a window of sound hums with the mains: lines of 50 or 60 Hz and their multiples stand out. Mono, 48 kHz. */
function lookAt(samples: Float32Array): Look {
  const shaped = samples.map((one, i) => one * (1 - Math.cos((2 * Math.PI * i) / samples.length)));
  const hums = MAINS.map((mains) => {
    const lines = HARMONICS.filter((n) => {
      const line = amplitude(shaped, mains * n);
      const beside = Math.max(amplitude(shaped, mains * n - ASIDE), amplitude(shaped, mains * n + ASIDE));
      return line > FAINT && line > beside * STANDS;
    });
    return lines.length >= 2;
  });
  return { power: samples.reduce((sum, one) => sum + one * one, 0), hums };
}

/** A hum is always there, but heard where nobody speaks: in all of the quietest fifth, of at least so many looks. */
const LOOKS = 8;
function humming(looks: readonly Look[]): boolean {
  if (looks.length < LOOKS) return false;
  const quiet = [...looks].sort((a, b) => a.power - b.power).slice(0, Math.ceil(looks.length / 5));
  return MAINS.some((_, n) => quiet.every((look) => look.hums[n]));
}

/** How strong a frequency is in some samples (Goertzel), as the amplitude of its sine. */
function amplitude(samples: Float32Array, hertz: number): number {
  const turn = 2 * Math.cos((2 * Math.PI * hertz) / SAMPLE_RATE);
  let [one, two] = [0, 0];
  for (let i = 0; i < samples.length; i += 1) [one, two] = [(samples[i] as number) + turn * one - two, one];
  return (2 / samples.length) * Math.sqrt(Math.max(0, one * one + two * two - turn * one * two));
}

/** Judges a voice before a microphone as it comes: too quiet, fine, too loud, over a hum or noise. */
export class VoiceCheck {
  private energies = new Energies();
  private readonly peaks: number[] = [];
  private readonly looks: Look[] = [];
  private readonly window = new Float32Array(WINDOW);
  private filled = 0;
  private highest = 0;
  private counted = 0;

  /** Takes in what comes next. Mono, 48 kHz. */
  push(samples: Float32Array): void {
    this.energies.push({ left: samples, right: samples });
    for (let i = 0; i < samples.length; i += 1) {
      const one = samples[i] as number;
      this.highest = Math.max(this.highest, Math.abs(one));
      this.window[this.filled] = one;
      this.filled += 1;
      this.counted += 1;
      if (this.counted === LOUDNESS_STEP) {
        this.peaks.push(this.highest);
        if (this.peaks.length > LOOK) this.peaks.shift();
        [this.highest, this.counted] = [0, 0];
      }
      if (this.filled < WINDOW) continue;
      this.looks.push(lookAt(this.window));
      if (this.looks.length > (LOOK / 10) * (SAMPLE_RATE / WINDOW)) this.looks.shift();
      this.filled = 0;
    }
  }

  get reading(): VoiceReading {
    const last = this.energies.steps.slice(-LOOK);
    const loudness = integratedOf(last);
    const peak = Math.max(this.highest, ...this.peaks);
    return { verdict: this.judge(last, loudness, peak), loudness, peak };
  }

  private judge(last: readonly number[], loudness: number, peak: number): Verdict {
    if (peak >= LOUD) return 'loud';
    if (humming(this.looks)) return 'hum';
    if (last.length < 4 || loudness < NONE) return 'nothing';
    const steady = lufs([...last].sort((a, b) => a - b)[Math.floor(last.length / 10)] ?? 0);
    if (last.length > 15 && steady > NONE && loudness - steady < CLEAR) return 'noisy';
    return loudness < QUIET ? 'quiet' : 'fine';
  }
}
