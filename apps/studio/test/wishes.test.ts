import { DeliverySettings, FileKind, PictureCodec, PLATFORM_FORMATS, SoundCodec, type Control } from '@flimzy/core/deliver';
import { newPiece, type Piece } from '@flimzy/core/piece';
import { frameStart, RATES } from '@flimzy/core/time';
import fc from 'fast-check';
import { filesOf, partStart, plainFormat, settingsFor, type Wish } from '../src/send/wishes';

const MUSIC = { id: 'm', name: 'Wind', kind: 'sound' as const, length: 1e12, width: 0, height: 0, rate: null, hasSound: true };

/** A piece of some frames of sound on two tracks. */
function pieceOf(frames: number, rate = RATES[4]!): Piece {
  const piece = newPiece('piece', 'Wind', { width: 1080, height: 1920, rate });
  const clip = { media: 'm', name: 'Wind', start: 0, length: frameStart(frames, rate), from: 0, fit: 'fill', backdrop: 'black', level: 0 };
  const tracks = piece.tracks.map((track) => ({ ...track, clips: [{ ...clip, id: `on ${track.id}` }] }));
  return { ...piece, media: { m: MUSIC }, tracks } as unknown as Piece;
}

const wishes: fc.Arbitrary<Wish> = fc.record(
  {
    file: fc.constantFrom(...FileKind.options),
    width: fc.constantFrom(1080, 720, 540, 7),
    rate: fc.constantFrom(...RATES, { num: 25, den: 2 }),
    codec: fc.constantFrom(...PictureCodec.options),
    control: fc.constantFrom<Control>({ by: 'quality', quality: 40 }, { by: 'bitrate', bitrate: 900_000 }, { by: 'bytes', bytes: 500_000 }),
    soundCodec: fc.constantFrom(...SoundCodec.options),
    soundBitrate: fc.constantFrom(1, 128_000, 9e9),
    faststart: fc.boolean(),
  },
  { requiredKeys: [] },
);

describe('what is sent', () => {
  it('can be made, whatever was wished for before another file was chosen, in every format', () => {
    fc.assert(
      fc.property(wishes, fc.constantFrom(...RATES), fc.nat(PLATFORM_FORMATS.length), fc.boolean(), (wish, rate, n, apart) => {
        const piece = pieceOf(900, rate);
        const format = PLATFORM_FORMATS[n] ?? plainFormat(piece);
        const { settings } = settingsFor(piece, format, wish);
        expect(DeliverySettings.parse(settings)).toEqual(settings);
        expect(settings.rate.num / settings.rate.den).toBeLessThanOrEqual(rate.num / rate.den);
        expect(format.files).toContain(settings.file);
        for (const file of filesOf(piece, format, wish, apart)) expect(DeliverySettings.parse(file)).toEqual(file);
      }),
    );
  });

  it('is a file for each part, from where the one before ended; or for each track', () => {
    const piece = pieceOf(1000);
    const [story, sound] = [PLATFORM_FORMATS.find(({ id }) => id === 'story')!, PLATFORM_FORMATS.find(({ id }) => id === 'sound-only')!];
    const parts = filesOf(piece, story, undefined, false);
    expect(parts.map((one) => partStart(piece, one))).toEqual([0, 450, 900].map((frame) => frameStart(frame, piece.format.rate)));
    expect(filesOf(piece, sound, undefined, false).map(({ track }) => track)).toEqual([null]);
    expect(filesOf(piece, sound, undefined, true).map(({ track }) => track)).toEqual(['main', 'sound-1']);
  });

  it('is small as a loop of the piece as it is, with no more frames than its clock tells apart', () => {
    const piece = pieceOf(90);
    expect(settingsFor(piece, plainFormat(piece), { file: 'gif' }).settings).toMatchObject({
      size: { width: 270, height: 480 },
      rate: { num: 15, den: 1 },
    });
  });
});
