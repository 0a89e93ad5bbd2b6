import fc from 'fast-check';
import { contrast, groundOf, luminanceOf } from '../analyse';
import {
  asItIs,
  CHECKS,
  DeliverySettings,
  fileNameFrom,
  inShape,
  isWithin,
  loudnessChecks,
  movedInto,
  partsFor,
  planSegments,
  PLATFORM_FORMATS,
  PlatformFormat,
  preflight,
  rateFor,
  safeArea,
  sizesFor,
  suggest,
  unknownWord,
  type BoxOf,
  type Checked,
} from '../deliver';
import { type EditName, type TogetherStep } from '../edits';
import { PLAIN_TEXT } from '../frame';
import { aboutOf, findClip, onlyTrack, OVERLAY, pieceLength, SHAPES, type Piece } from '../piece';
import { mix, type Stereo } from '../sound';
import { frameLength, fromSeconds, type Rate } from '../time';
import { addFrames, does, emptyPiece, MUSIC, PHOTO, play, rates, VIDEO, wishes } from './making';

const THIRTY: Rate = { num: 30, den: 1 };
const FRAME = frameLength(THIRTY);
const format = (id: string) => PLATFORM_FORMATS.find((one) => one.id === id)!;

/** A text half as wide as it is high for each letter, all in one line: enough to say where it lies. */
const boxOf: BoxOf = (parts, frame) => {
  const boxes = parts.map((part) => {
    const size = part.size * Math.min(frame.width, frame.height);
    const width = part.kind === 'text' ? part.text.length * size * 0.5 : size;
    const left = part.kind === 'text' && part.align === 'left' ? 0 : part.kind === 'text' && part.align === 'right' ? width : width / 2;
    return { x: part.x * frame.width - left, y: part.y * frame.height - size / 2, width, height: size };
  });
  const [x, y] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))];
  return { x, y, width: Math.max(...boxes.map((b) => b.x + b.width)) - x, height: Math.max(...boxes.map((b) => b.y + b.height)) - y };
};

function checked(piece: Piece, to: PlatformFormat, more: Partial<Checked> = {}): Checked {
  const { size } = suggest(piece, to).settings;
  const sent = size ? inShape(piece, size, to, boxOf) : piece;
  return {
    piece,
    sent,
    length: pieceLength(piece),
    format: to,
    boxOf,
    hearing: () => null,
    groundOf: () => null,
    flashes: [],
    isThere: () => true,
    loud: null,
    ...more,
  };
}

const found = (piece: Piece, id: string, more: Partial<Checked> = {}) => preflight(checked(piece, format(id), more));
const names = (piece: Piece, id: string, more: Partial<Checked> = {}) => found(piece, id, more).map(({ check }) => check);

const title = (text: string, x: number, y: number, frames: number, piece: Piece = addFrames(emptyPiece(), VIDEO, 0, 300)) =>
  does(piece, 'add', {
    track: null,
    media: OVERLAY,
    at: 0,
    from: 0,
    length: frames * frameLength(piece.format.rate),
    values: { overlay: { parts: [{ ...PLAIN_TEXT, text, x, y, size: 0.05 }] } },
  });

describe('platform formats', () => {
  it('are told apart, are what they say they are, and come back out of JSON', () => {
    expect(new Set(PLATFORM_FORMATS.map(({ id }) => id)).size).toBe(PLATFORM_FORMATS.length);
    for (const one of PLATFORM_FORMATS) {
      expect(PlatformFormat.parse(JSON.parse(JSON.stringify(one)))).toEqual(one);
      const [first] = one.sizes;
      if (first)
        for (const { width, height } of one.sizes) expect(Math.abs(width / height - first.width / first.height)).toBeLessThan(0.01);
    }
  });

  it('are given settings that they take, whatever the piece: no more frames than it has, no other shape', () => {
    fc.assert(
      fc.property(rates, fc.constantFrom(...SHAPES), fc.constantFrom(...PLATFORM_FORMATS), fc.nat(8), (rate, shape, to, n) => {
        const piece = addFrames({ ...emptyPiece(rate), format: { width: shape.width, height: shape.height, rate } }, VIDEO, 0, 60);
        const { settings, reason } = suggest(piece, to, to.files[n % to.files.length]);
        expect(DeliverySettings.parse(settings)).toEqual(settings);
        expect(reason.length).toBeGreaterThan(10);
        const fps = settings.rate.num / settings.rate.den;
        expect(fps).toBeLessThanOrEqual(rate.num / rate.den);
        if (settings.size) {
          expect(fps).toBeGreaterThanOrEqual(Math.min(to.rates.least, rate.num / rate.den));
          expect(fps).toBeLessThanOrEqual(to.rates.most);
          expect(sizesFor(to, piece.format)).toContainEqual(settings.size);
        }
      }),
    );
    expect(DeliverySettings.parse(asItIs(emptyPiece()))).toBeTruthy();
  });

  it('leave frames out evenly where they take fewer a second', () => {
    const of = (num: number, den: number) => rateFor(format('silent-loop'), { rate: { num, den } });
    expect([of(30, 1), of(60, 1), of(25, 1), of(60_000, 1_001)]).toEqual([
      { num: 15, den: 1 },
      { num: 20, den: 1 },
      { num: 25, den: 1 },
      { num: 20_000, den: 1_001 },
    ]);
  });

  it('are sent as large as the sharpest clip has something to show, and not larger', () => {
    const small = { ...VIDEO, width: 720, height: 1280 };
    const sizeOf = (piece: Piece) => suggest(piece, format('vertical-short')).settings.size?.width;
    expect(sizeOf(addFrames(emptyPiece(), small, 0, 60))).toBe(720);
    expect(sizeOf(addFrames(addFrames(emptyPiece(), small, 0, 60), { ...VIDEO, id: 'w', width: 2160, height: 3840 }, 0, 30))).toBe(1080);
  });

  it('refuse settings that would make no file', () => {
    const good = asItIs(emptyPiece());
    const bad: object[] = [
      { file: 'mp3' },
      { picture: null },
      { size: null },
      { file: 'webm' },
      { sound: { codec: 'mp3', rate: 48_000, bitrate: 192_000 } },
      { sound: { codec: 'aac', rate: 48_000, bitrate: 1 } },
      { track: 'main' },
    ];
    for (const change of bad) expect(DeliverySettings.safeParse({ ...good, ...change }).success).toBe(false);
  });
});

describe('parts of a piece', () => {
  it('cover it from start to end without a gap, none longer or shorter than the format takes, and segments end where they do', () => {
    fc.assert(
      fc.property(rates, fc.integer({ min: 30, max: 4000 }), fc.integer({ min: 3, max: 20 }), (rate, frames, seconds) => {
        const frame = frameLength(rate);
        const to = { part: seconds, length: { least: 1, most: null } };
        const length = frames * frame;
        const parts = partsFor(length, to, { rate });
        expect(parts[0]!.from).toBe(0);
        expect(parts.at(-1)!.to).toBe(length);
        parts.forEach((part, i) => {
          expect(part.from).toBe(i === 0 ? 0 : parts[i - 1]!.to);
          expect(part.from % frame).toBe(0);
          expect(part.to - part.from).toBeLessThanOrEqual(fromSeconds(seconds));
          if (length >= fromSeconds(1)) expect(part.to - part.from).toBeGreaterThanOrEqual(Math.min(length, fromSeconds(1)));
        });
      }),
    );
    const piece = addFrames(emptyPiece(), { ...VIDEO, length: fromSeconds(60) }, 0, 1000);
    const parts = partsFor(pieceLength(piece), format('story'), piece.format);
    const segments = planSegments(
      piece,
      pieceLength(piece),
      parts.slice(1).map(({ from }) => from),
    );
    expect(parts).toHaveLength(3);
    for (const { from } of parts) expect(segments.map(({ start }) => start * FRAME)).toContain(from);
    expect(segments.reduce((sum, one) => sum + one.frames, 0)).toBe(1000);
  });
});

describe('a piece in another shape', () => {
  it('has its words where the platform lays nothing over them, and stays itself in its own shape', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...PLATFORM_FORMATS.filter(({ sizes }) => sizes.length > 0)),
        fc.double({ min: -0.2, max: 1.2, noNaN: true }),
        fc.double({ min: -0.2, max: 1.2, noNaN: true }),
        fc.integer({ min: 1, max: 120 }),
        (to, x, y, letters) => {
          const piece = title('n'.repeat(letters), x, y, 90);
          const size = to.sizes[0]!;
          const sent = inShape(piece, size, to, boxOf);
          const overlay = sent.tracks[1]!.clips[0]!.overlay!;
          if (overlay === 'none') throw new Error('the title is gone');
          expect(sent.format).toMatchObject(size);
          if (size.width === 1080 && size.height === 1920) expect(sent).toBe(piece);
          else expect(isWithin(boxOf(overlay.parts, size), safeArea(to, size))).toBe(true);
          expect(sent.tracks[0]).toEqual(piece.tracks[0]);
        },
      ),
    );
  });

  it('moves a title as a whole, and no further than it has to', () => {
    const parts = [
      { ...PLAIN_TEXT, text: 'Kite', x: 0.5, y: 0.95, size: 0.05 },
      { ...PLAIN_TEXT, text: 'School', x: 0.5, y: 0.9, size: 0.05 },
    ];
    const frame = { width: 1000, height: 1000 };
    const moved = movedInto({ parts }, { x: 0, y: 0, width: 1000, height: 900 }, frame, boxOf).parts;
    expect(moved.map(({ x }) => x)).toEqual([0.5, 0.5]);
    expect(moved[0]!.y).toBeCloseTo(0.875);
    expect(moved[0]!.y - moved[1]!.y).toBeCloseTo(0.05);
    expect(movedInto({ parts: moved }, { x: 0, y: 0, width: 1000, height: 900 }, frame, boxOf).parts).toBe(moved);
  });
});

/** All edits of a finding's mend. */
const mended = (piece: Piece, steps: readonly TogetherStep[]) =>
  steps.reduce((now, { name, params }) => does(now, name as EditName, params as never), piece);

describe('preflight', () => {
  const fine = addFrames(emptyPiece(), { ...VIDEO, width: 1080, height: 1920 }, 0, 300);

  it('finds nothing in a piece with which nothing is wrong', () => {
    expect(found(fine, 'vertical-short', { loud: { integrated: -14.5, peak: -1.2 } })).toEqual([]);
  });

  it('finds what is there, and says what it is', () => {
    const long = addFrames(emptyPiece(), { ...VIDEO, length: fromSeconds(100) }, 0, 1890);
    const [tooLong] = found(long, 'vertical-short');
    expect(tooLong).toMatchObject({ check: 'tooLong', weight: 'refused', at: fromSeconds(60) });
    expect(tooLong!.says).toContain('0:03.00 too long');
    expect(names(addFrames(emptyPiece(), VIDEO, 0, 60), 'vertical-short')).toContain('tooShort');
    expect(names(fine, 'square-post')).toEqual(['otherShape']);
    expect(names(addFrames(emptyPiece({ num: 60, den: 1 }), VIDEO, 0, 300), 'story')).toEqual(['otherRate']);
    expect(names(title('Wind', 0.5, 0.97, 90), 'vertical-short')).toEqual(['wordsOutside']);
    expect(names(title('Wind in the field behind the house today', 0.5, 0.5, 20), 'vertical-short')).toContain('wordsBrief');
    expect(
      names(
        does(addFrames(fine, VIDEO, 0, 30), 'remove', { clips: [fine.tracks[0]!.clips[0]!.id], rest: 'leave', tracks: 'own' }),
        'landscape-video',
      ),
    ).toContain('black');
    expect(names(addFrames(fine, PHOTO, 0, 200), 'vertical-short')).toEqual(['frozen']);
    expect(names(fine, 'vertical-short', { isThere: () => false })).toEqual(['missing']);
    expect(names(fine, 'vertical-short', { loud: { integrated: -20, peak: 0.5 } })).toEqual(['otherLoudness', 'tooHigh']);
    expect(names(fine, 'silent-loop', { loud: { integrated: -20, peak: 0.5 } })).toEqual([]);
    const twice = does(fine, 'add', {
      track: 'sound-1',
      media: { ...VIDEO, width: 1080, height: 1920 },
      at: 0,
      from: 0,
      length: 90 * FRAME,
      parts: 'sound',
    });
    expect(names(twice, 'vertical-short')).toContain('doubled');
  });

  it('finds words that are hardly seen before what lies behind them, unless they stand out by themselves', () => {
    const shaded = title('Wind', 0.5, 0.5, 90);
    const { id } = shaded.tracks[1]!.clips[0]!;
    const bare = { parts: [{ ...PLAIN_TEXT, text: 'Wind', size: 0.05, shadow: null }] };
    const white = does(shaded, 'set', { clips: [id], values: { overlay: bare } });
    const sky = { groundOf: () => ({ dark: 0.4, light: 0.6 }) };
    expect(names(white, 'vertical-short')).toEqual([]);
    expect(names(shaded, 'vertical-short', sky)).toEqual([]);
    expect(names(white, 'vertical-short', { groundOf: () => ({ dark: 0.01, light: 0.1 }) })).toEqual([]);
    const [faint] = found(white, 'vertical-short', sky);
    expect(faint).toMatchObject({ check: 'wordsFaint', weight: 'hurts' });
    const [mend] = faint!.mends;
    const after = mend && 'edits' in mend ? mended(white, mend.edits.steps) : white;
    expect(after.tracks[1]!.clips[0]!.overlay).toMatchObject({ parts: [{ text: 'Wind', panel: { by: 'lines' } }] });
    expect(names(after, 'vertical-short', sky)).toEqual([]);
    const pixels = new Uint8ClampedArray(4 * 100).map((_, i) => (i % 4 === 3 || Math.floor(i / 4) % 10 < 5 ? 255 : 0));
    const size = { width: 10, height: 10 };
    expect(groundOf(pixels, size, { x: 0, y: 0, width: 5, height: 10 })).toEqual({ dark: 1, light: 1 });
    expect(groundOf(pixels, size, { x: -4, y: 2, width: 40, height: 3 })).toEqual({ dark: 0, light: 1 });
    expect(groundOf(pixels, size, { x: 20, y: 0, width: 5, height: 5 })).toBeNull();
    expect(contrast(luminanceOf('#ffffff'), luminanceOf('#000000'))).toBeCloseTo(21);
    expect(contrast(luminanceOf('#777777'), luminanceOf('#ffffff'))).toBeCloseTo(4.48, 1);
  });

  it('finds words whose letters cannot be drawn', () => {
    const says = (text: string) =>
      found(title(text, 0.5, 0.5, 90), 'vertical-short').flatMap(({ check, says }) => (check === 'wordsBoxed' ? [says] : []));
    expect(says('Ветер, कृपया, 凧, 연, ว่าว → ★')).toEqual([]);
    expect(says('Kite ᚲ ᛁ ᚲ')).toEqual(['“Kite ᚲ ᛁ ᚲ” has letters that no font here has: ᚲ ᛁ']);
  });

  it('tells speech apart that is much louder than the rest', () => {
    const hearing = (media: string) => ({
      loudness: Array.from({ length: 200 }, () => (media === 'w' ? -140 : -260)),
      speech: [[0, 480_000]] as [number, number][],
    });
    const uneven = addFrames(addFrames(addFrames(emptyPiece(), VIDEO, 0, 90), VIDEO, 90, 90), { ...VIDEO, id: 'w' }, 0, 90);
    const [one] = found(uneven, 'vertical-short', { hearing }).filter(({ check }) => check === 'uneven');
    expect(one!.says).toContain('12.0 LU louder');
  });

  it('finds words over words, and moves the captions, or what lies on top, away; in another shape there alone', () => {
    const base = title('Ida Brandt', 0.5, 0.72, 120);
    const cues = [0, 60].map((at) => ({ at: at * FRAME, length: 55 * FRAME, text: 'Hold it' }));
    const piece = does(base, 'caption', { cues });
    const over = (one: Piece, id: string) => found(one, id).filter(({ check }) => check === 'wordsOver');
    const put = (one: Piece, id: string) => {
      const [mend] = over(one, id)[0]!.mends;
      if (!mend || !('edits' in mend)) throw new Error('there is no mend');
      return mended(one, mend.edits.steps);
    };
    expect(over(piece, 'vertical-short').map(({ says }) => says)).toEqual(['2 captions lie over “Ida Brandt” and the like.']);
    const apart = put(piece, 'vertical-short');
    expect(over(apart, 'vertical-short')).toEqual([]);
    const placeOf = (one: Piece) =>
      one.tracks.flatMap(({ clips }) => clips.map(({ overlay }) => overlay !== 'none' && overlay?.parts[0]?.y));
    expect(placeOf(apart).filter((y) => y === 0.72)).toHaveLength(1);
    // In the square they meet elsewhere, and what is done there changes nothing of the piece itself.
    const [square] = over(piece, 'square-post');
    expect(square).toBeDefined();
    const shaped = put(piece, 'square-post');
    expect(over(shaped, 'square-post')).toEqual([]);
    expect(placeOf(shaped)).toEqual(placeOf(piece));
    expect(over(shaped, 'vertical-short')).toHaveLength(1);
    // One after the other they do not meet, nor side by side.
    expect(over(does(base, 'caption', { cues: [{ at: 120 * FRAME, length: 40 * FRAME, text: 'Later' }] }), 'vertical-short')).toEqual([]);
    expect(over(title('Far', 0.5, 0.3, 60, base), 'vertical-short')).toEqual([]);
    expect(over(title('Near', 0.5, 0.73, 60, base), 'vertical-short')[0]?.says).toBe('“Near” lies over “Ida Brandt”.');
  });

  it('offers mends that can be done, and after which what was found is gone: on random pieces, in every format', () => {
    let tried = 0;
    fc.assert(
      fc.property(wishes(20), rates, fc.constantFrom(...PLATFORM_FORMATS), fc.boolean(), (some, rate, to, titled) => {
        const base = addFrames(emptyPiece(rate), VIDEO, 0, 40);
        let piece = play(titled ? title('Wind over the hill', 0.9, 0.98, 8, base) : base, some);
        piece = { ...piece, tracks: piece.tracks.map(({ locked: _locked, ...track }) => track) };
        const findings = preflight(checked(piece, to));
        for (const { check, says, mends } of findings)
          for (const mend of mends) {
            if (!('edits' in mend)) continue;
            tried += 1;
            const after = mended(piece, mend.edits.steps);
            if (check === 'tooLong' && !mend.label.startsWith('End it')) continue; // may take several
            const left = CHECKS[check](checked(after, to)).filter((one) => one.says === says);
            const before = findings.filter((one) => one.says === says);
            if (pieceLength(after) > 0) expect(left.length).toBeLessThan(before.length);
          }
      }),
      { numRuns: 300 },
    );
    expect(tried).toBeGreaterThan(50);
  });
});

describe('a file name', () => {
  it('is made of words, and says which are none', () => {
    expect(fileNameFrom('{piece} {format} {part}', { piece: 'Paper kite', format: 'Story in parts', part: '2 of 3' }, 'mp4')).toBe(
      'Paper-kite-Story-in-parts-2-of-3.mp4',
    );
    expect(fileNameFrom('{piece} {format}', { piece: 'Über/Wind', format: '' }, 'gif')).toBe('Über-Wind.gif');
    expect(unknownWord('{piece} {day}')).toBe('{day}');
    expect(unknownWord('{piece')).toBe('{piece');
    expect(unknownWord('{piece} of {date}')).toBeNull();
  });
});

describe('one track alone', () => {
  it('sounds as it does in the whole: all of them together are the piece', () => {
    const read = (media: string, from: number, count: number): Stereo => {
      const left = Float32Array.from({ length: count }, (_, i) => 0.2 * Math.sin((from + i) * (media === 'm' ? 0.03 : 0.011)));
      return { left, right: left };
    };
    let piece = addFrames(emptyPiece(), VIDEO, 0, 60);
    piece = does(piece, 'add', { track: 'sound-1', media: MUSIC, at: 10 * FRAME, from: 0, length: 40 * FRAME });
    piece = does(piece, 'setTrack', { track: 'sound-1', set: { level: -4 } });
    expect(findClip(piece, piece.tracks[1]!.clips[0]!.id)?.track.level).toBe(-4);
    const whole = mix({ ...piece, sound: { unlimited: true } }, 0, 96_000, read).left;
    const [one, other] = piece.tracks.map(({ id }) => mix(onlyTrack(piece, id), 0, 96_000, read).left);
    let worst = 0;
    for (let i = 0; i < whole.length; i += 1) worst = Math.max(worst, Math.abs(whole[i]! - one![i]! - other![i]!));
    expect(worst).toBeLessThan(1e-6);
    expect(one!.some((v) => v !== 0) && other!.some((v) => v !== 0)).toBe(true);
  });
});

describe('a clip wanted otherwise in one shape', () => {
  const SQUARE = { width: 720, height: 720 };
  const WIDE = { width: 1280, height: 720 };
  const [one, other] = ['square-post', 'landscape-video'].map(format) as [PlatformFormat, PlatformFormat];
  const upright = (fit: 'fill' | 'fit') => {
    const piece = addFrames(emptyPiece(), VIDEO, 0, 60);
    const tall = { ...piece, format: { ...piece.format, width: 1080, height: 1920 } };
    return does(tall, 'set', { clips: [clipOf(piece).id], values: { fit } });
  };
  const clipOf = (piece: Piece) => piece.tracks[0]!.clips[0]!;

  test('is so in that shape, in every size of it, and nowhere else; and halves of it are alike', () => {
    const share = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        share,
        share,
        fc.double({ min: 0.5, max: 2, noNaN: true }),
        fc.constantFrom('fill' as const, 'fit' as const),
        (across, down, scale, fit) => {
          const plain = upright(fit);
          const inShapes = { '1.00': { across, down, scale } };
          const wanted = does(plain, 'set', { clips: [clipOf(plain).id], values: { inShapes } });
          expect(inShape(wanted, { width: 1080, height: 1920 }, one, boxOf)).toEqual(wanted);
          const elsewhere = clipOf(inShape(wanted, WIDE, other, boxOf));
          expect({ ...elsewhere, inShapes: undefined }).toEqual({ ...clipOf(inShape(plain, WIDE, other, boxOf)), inShapes: undefined });
          const there = clipOf(inShape(wanted, SQUARE, one, boxOf));
          expect(clipOf(inShape(wanted, { width: 1080, height: 1080 }, one, boxOf))).toEqual(there);
          expect(there.scale).toBeCloseTo(scale, 9);
          if (fit === 'fit')
            expect([there.x, there.y]).toEqual([across + 0, down + 0]); // −0 is 0
          else for (const focus of [there.focusX, there.focusY]) expect(focus).toBe(Math.max(0, Math.min(1, focus as number)));
          const halves = does(wanted, 'split', { at: 30 * FRAME, clips: [clipOf(wanted).id], linked: false });
          const places = inShape(halves, SQUARE, one, boxOf).tracks[0]!.clips.map(({ scale: size, x, y, focusX, focusY }) => [
            size,
            x,
            y,
            focusX,
            focusY,
          ]);
          expect(places).toHaveLength(2);
          expect(places[0]).toEqual(places[1]);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('a picture that fills the frame follows the hand by so much of the frame, and uncovers no edge', () => {
    const plain = upright('fill');
    // 16:9 in a square: 1.78 frames wide, its middle in the middle.
    const at = (across: number) => {
      const wanted = does(plain, 'set', { clips: [clipOf(plain).id], values: { inShapes: { '1.00': { across, down: 0, scale: 1 } } } });
      return clipOf(inShape(wanted, SQUARE, one, boxOf)).focusX as number;
    };
    expect(at(0.2)).toBeCloseTo(0.5 - 0.2 / (16 / 9), 9);
    expect(at(-0.2)).toBeCloseTo(0.5 + 0.2 / (16 / 9), 9);
    expect(at(2)).toBe(0);
  });
});

describe('what is said of how loud a finished file is', () => {
  const wanted = { loudness: { target: -14, within: 1, peak: -1 } };

  test('tells what is off from what is as asked for, and by how much', () => {
    expect(loudnessChecks(wanted, { integrated: -14.6, peak: -1.2 })).toEqual([
      { says: '−14.6 LUFS of −14.0', ok: true },
      { says: 'Peak −1.2 dBTP', ok: true },
    ]);
    expect(loudnessChecks(wanted, { integrated: -22.3, peak: 0.2 })).toEqual([
      { says: '−22.3 LUFS, 8.3 LU too soft for −14.0', ok: false },
      { says: 'Peak 0.2 dBTP, over −1.0', ok: false },
    ]);
    expect(loudnessChecks(wanted, { integrated: -12, peak: -0.6 })[0]).toEqual({
      says: '−12.0 LUFS, 2.0 LU too loud for −14.0',
      ok: false,
    });
  });

  test('finds nothing wrong with silence, nor where nothing was asked for', () => {
    const silent = { integrated: -Infinity, peak: -Infinity };
    expect(loudnessChecks(wanted, silent)).toEqual([{ says: 'Silent', ok: true }]);
    expect(loudnessChecks(null, silent)).toEqual([{ says: 'Silent', ok: true }]);
    expect(loudnessChecks(null, { integrated: -30, peak: 3 }).map(({ ok }) => ok)).toEqual([true, true]);
  });
});

describe('what is said of a piece', () => {
  test('is changed by what is given of it, and is nothing once all of it is taken away', () => {
    const plain = emptyPiece();
    expect(aboutOf(plain)).toEqual({ title: plain.name, description: '', tags: [] });
    const some = does(does(plain, 'describe', { title: ' Up ' }), 'describe', { tags: ['kite', 'wind', 'kite'] });
    expect(aboutOf(some)).toEqual({ title: 'Up', description: '', tags: ['kite', 'wind'] });
    expect(does(does(some, 'describe', { title: '' }), 'describe', { tags: [] })).toEqual(plain);
  });

  test('its picture shows a moment that there is', () => {
    const piece = addFrames(emptyPiece(), VIDEO, 0, 60);
    const chosen = does(piece, 'setPoster', { time: 30 * FRAME });
    expect(chosen.poster).toBe(30 * FRAME);
    expect(does(chosen, 'setPoster', { time: null })).toEqual(piece);
    expect(() => does(piece, 'setPoster', { time: 60 * FRAME })).toThrow('not that long');
  });
});
