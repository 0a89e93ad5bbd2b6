import { Energies, integratedOf, Loudness } from '../analyse';
import type { Stereo } from '../sound';

/** A sine of 1 kHz on both sides: stretches of a level (dBFS) and a length (s). EBU Tech 3341, table 1. */
function* signal(stretches: readonly (readonly [level: number, seconds: number])[]): Generator<Stereo> {
  let n = 0;
  for (const [level, seconds] of stretches) {
    const amplitude = 10 ** (level / 20);
    for (let left = Math.round(seconds * 48_000); left > 0; left -= 48_000) {
      const samples = Float32Array.from(
        { length: Math.min(left, 48_000) },
        () => amplitude * Math.sin((2 * Math.PI * 1000 * n++) / 48_000),
      );
      yield { left: samples, right: samples };
    }
  }
}

const measured = (stretches: readonly (readonly [number, number])[]) => {
  const meter = new Loudness();
  for (const sound of signal(stretches)) meter.push(sound);
  return meter;
};

describe('loudness', () => {
  it.each<[number, [number, number][]]>([
    [-23, [[-23, 20]]],
    [-33, [[-33, 20]]],
    [
      -23,
      [
        [-36, 10],
        [-23, 60],
        [-36, 10],
      ],
    ],
    [
      -23,
      [
        [-72, 10],
        [-36, 10],
        [-23, 60],
        [-36, 10],
        [-72, 10],
      ],
    ],
    [
      -23,
      [
        [-26, 20],
        [-20, 20.1],
        [-26, 20],
      ],
    ],
  ])('is %d LUFS for the signals of EBU Tech 3341 that are made to be so', (expected, stretches) => {
    const energies = new Energies();
    for (const sound of signal(stretches)) energies.push(sound);
    expect(Math.abs(integratedOf(energies.steps) - expected)).toBeLessThan(0.1);
  });

  it('of the moment and of three seconds follow it, and the peak stays', () => {
    const meter = measured([
      [-23, 5],
      [-43, 1],
    ]);
    expect(meter.momentary).toBeCloseTo(-43, 1);
    expect(meter.shortTerm).toBeCloseTo(-23 + 10 * Math.log10((2 + 0.01) / 3), 1);
    expect(meter.peak).toBeCloseTo(-23, 2);
    expect(Math.abs(meter.integrated + 23)).toBeLessThan(0.2);
    expect(new Loudness().integrated).toBe(-Infinity);
  });
});
