import fc from 'fast-check';
import { captionStretches, captionTexts, spreadText, type Span } from '../analyse';
import { asSent, cuesBeside, PLATFORM_FORMATS, preflight, suggest, type DeliverySettings } from '../deliver';
import { captionFile, readCaptions } from '../formats';
import { evaluate, PLAIN_CAPTION } from '../frame';
import { brokenInvariants, cuesOf, isCaptions, UNWRITTEN, type Cue, type Piece } from '../piece';
import { readingTime } from '../properties';
import { frameLength, fromSeconds, onGrid, toGrid } from '../time';
import { addFrames, does, emptyPiece, rates, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });
const MS = 705_600;
const SAID = ['Hold the line tight.', 'Let it out slowly,', 'and run.'];

/** Ten seconds of video with three captions. */
function captioned(): Piece {
  const cues = SAID.map((text, n) => ({ at: (30 + n * 60) * F, length: 50 * F, text }));
  return does(addFrames(emptyPiece(), VIDEO, 0, 300), 'caption', { cues });
}

const trackOf = (piece: Piece) => piece.tracks.find(isCaptions)!;
const drawn = (piece: Piece, time: number) => evaluate(piece, time).layers.some(({ kind }) => kind === 'overlay');
const formatOf = (id: string) => PLATFORM_FORMATS.find((one) => one.id === id)!;

/** Someone speaks in the video from one second to five. */
const SPEAKS = () => ({ loudness: new Float32Array(0), speech: [[48_000, 240_000]] as [number, number][] }) as never;
const found = (piece: Piece, id: string) =>
  preflight({
    piece,
    sent: piece,
    length: 300 * F,
    format: formatOf(id),
    boxOf: () => ({ x: 400, y: 900, width: 100, height: 100 }),
    hearing: SPEAKS,
    groundOf: () => null,
    flashes: [],
    isThere: () => true,
    loud: null,
  });

describe('captions on their track', () => {
  test('are written on one track, over all pictures, and found in order', () => {
    const piece = captioned();
    expect(piece.tracks.filter(isCaptions)).toHaveLength(1);
    expect(piece.tracks.filter(({ kind }) => kind === 'picture').at(-1)).toBe(trackOf(piece));
    expect(cuesOf(piece)).toEqual(SAID.map((text, n) => ({ from: (30 + n * 60) * F, to: (80 + n * 60) * F, text })));
  });

  test('those that come later look as those that are there; alike when one asks for it, with their words', () => {
    const look = { ...PLAIN_CAPTION, size: 0.1 };
    const piece = does(captioned(), 'lookOfCaptions', { look });
    expect(cuesOf(piece).map(({ text }) => text)).toEqual(SAID);
    const more = does(piece, 'caption', { cues: [{ at: 250 * F, length: 20 * F, text: 'Up!' }] });
    const sizes = trackOf(more).clips.map(({ overlay }) => overlay !== 'none' && overlay?.parts[0]?.size);
    expect(sizes).toEqual([0.1, 0.1, 0.1, 0.1]);
  });

  test('a new one covers what is there at its time; all go when others come instead', () => {
    const over = does(captioned(), 'caption', { cues: [{ at: 60 * F, length: 40 * F, text: 'Now' }] });
    expect(cuesOf(over).map(({ from, to, text }) => [from / F, to / F, text])).toEqual([
      [30, 60, SAID[0]],
      [60, 100, 'Now'],
      [100, 140, SAID[1]],
      [150, 200, SAID[2]],
    ]);
    const instead = does(captioned(), 'caption', { cues: [{ at: 0, length: F, text: 'All' }], instead: true });
    expect(cuesOf(instead)).toEqual([{ from: 0, to: F, text: 'All' }]);
  });

  test('one that nobody has written yet is none', () => {
    const piece = does(captioned(), 'caption', { cues: [{ at: 260 * F, length: 30 * F, text: UNWRITTEN }] });
    expect(cuesOf(piece).map(({ text }) => text)).toEqual(SAID);
  });

  test('of a nest are those of the piece, where the nest stands and as fast as it runs', () => {
    const piece = captioned();
    const all = piece.tracks.flatMap(({ clips }) => clips.map(({ id }) => id));
    const nested = does(piece, 'nest', { clips: all, name: 'Inside' });
    expect(cuesOf(nested)).toEqual(cuesOf(piece));
    const nest = nested.tracks[0]!.clips[0]!;
    const fast = does(nested, 'setSpeed', { clips: [nest.id], wish: { speed: 2 }, rest: 'stay' });
    expect(cuesOf(fast).map(({ from, to }) => [from / F, to / F])).toEqual([
      [15, 40],
      [45, 70],
      [75, 100],
    ]);
    const cut = does(nested, 'trim', { clip: nest.id, edge: 'head', to: 50 * F, rest: 'stay', tracks: 'own' });
    expect(cuesOf(cut)[0]).toEqual({ from: 50 * F, to: 80 * F, text: SAID[0] });
  });
});

describe('captions as they are sent', () => {
  const settingsOf = (piece: Piece, id: string): DeliverySettings => suggest(piece, formatOf(id)).settings;
  const boxOf = () => ({ x: 0, y: 0, width: 10, height: 10 });

  test('are drawn where a format has them in the picture, and left out where they go beside it', () => {
    const piece = captioned();
    const [inside, beside] = [settingsOf(piece, 'vertical-short'), settingsOf(piece, 'landscape-video')];
    expect(drawn(asSent(piece, inside, boxOf), 40 * F)).toBe(true);
    expect(cuesBeside(piece, inside)).toEqual([]);
    expect(drawn(asSent(piece, beside, boxOf), 40 * F)).toBe(false);
    expect(cuesBeside(piece, beside)).toEqual(cuesOf(piece));
  });

  test('of a part begin with that part', () => {
    const piece = captioned();
    const settings: DeliverySettings = {
      ...settingsOf(piece, 'story'),
      format: { ...formatOf('story'), part: 2 },
      captions: 'beside',
      part: 1,
    };
    expect(cuesBeside(piece, settings)).toEqual([
      { from: 0, to: 20 * F, text: SAID[0] },
      { from: 30 * F, to: 60 * F, text: SAID[1] },
    ]);
  });

  test('what is said without a caption is found, unless it is hardly anything', () => {
    const bare = addFrames(emptyPiece(), VIDEO, 0, 300);
    expect(found(bare, 'vertical-short').find(({ check }) => check === 'uncaptioned')).toMatchObject({
      says: 'There are no captions.',
      at: 30 * F,
      mends: [{ open: 'captions' }],
    });
    expect(found(bare, 'silent-loop').some(({ check }) => check === 'uncaptioned')).toBe(false);
    const half = does(bare, 'caption', { cues: [{ at: 30 * F, length: 50 * F, text: 'Hold' }] });
    expect(found(half, 'vertical-short').find(({ check }) => check === 'uncaptioned')?.says).toContain('has no captions');
    const whole = does(bare, 'caption', { cues: [{ at: 30 * F, length: 118 * F, text: 'Hold' }] });
    expect(found(whole, 'vertical-short').some(({ check }) => check === 'uncaptioned')).toBe(false);
  });

  test('brief ones are spoken of together, and made longer together', () => {
    const long = 'A sentence that nobody reads in so short a time as this';
    const cues = [0, 100, 200].map((at) => ({ at: at * F, length: 10 * F, text: long }));
    const piece = does(addFrames(emptyPiece(), VIDEO, 0, 300), 'caption', { cues });
    const [brief, ...others] = found(piece, 'vertical-short').filter(({ check }) => check === 'wordsBrief');
    expect(others).toEqual([]);
    const mend = brief!.mends[0]!;
    const mended = 'edits' in mend ? mend.edits.steps.reduce((now, step) => does(now, step.name, step.params as never), piece) : piece;
    const needed = toGrid(fromSeconds(readingTime(trackOf(piece).clips[0]!.overlay!, true)), piece.format.rate);
    for (const { from, to } of cuesOf(mended)) expect(to - from).toBeGreaterThanOrEqual(needed);
    expect(found(mended, 'vertical-short').some(({ check }) => check === 'wordsBrief')).toBe(false);
  });
});

/** Captions with times in whole milliseconds, none over another, with words that files can hold. */
const someCues = fc
  .array(
    fc.record({
      gap: fc.nat(5_000),
      lasts: fc.integer({ min: 1, max: 9_000 }),
      text: fc.array(fc.stringMatching(/^[A-Za-z0-9&<>"'.,!? äöé…-]{1,30}$/), { minLength: 1, maxLength: 3 }),
    }),
    { maxLength: 20 },
  )
  .map((all) => {
    let at = 0;
    return all.flatMap(({ gap, lasts, text }): Cue[] => {
      const from = at + gap;
      at = from + lasts;
      const lines = text.map((line) => line.replace(/-->/g, '').trim()).filter((line) => line !== '' && !/^[<&]/.test(line));
      return lines.length > 0 ? [{ from: from * MS, to: at * MS, text: lines.join('\n') }] : [];
    });
  });

describe('files of captions', () => {
  test('written as WebVTT and read again they are the same', () => {
    fc.assert(
      fc.property(someCues, (cues) => {
        expect(readCaptions(captionFile(cues, 'vtt'))).toEqual({ cues, passedOver: 0 });
      }),
    );
  });

  test('SRT too, but for what looks like marks', () => {
    fc.assert(
      fc.property(someCues, (cues) => {
        const plain = cues.map((cue) => ({ ...cue, text: cue.text.replace(/[<>&]/g, 'x') }));
        expect(readCaptions(captionFile(plain, 'srt'))).toEqual({ cues: plain, passedOver: 0 });
      }),
    );
  });

  test('are read as other programs write them', () => {
    const file =
      '\uFEFF1\r\n00:00:01,000 --> 00:00:02,500 X1:10 X2:20\r\n<i>Hold</i> the {\\an8}line\r\n<font color="#fff">tight</font>\r\n\r\n\r\n2\r\n00:00:02,000 --> 00:00:03,000\r\nover the first\r\n';
    expect(readCaptions(file)).toEqual({
      cues: [
        { from: 1000 * MS, to: 2000 * MS, text: 'Hold the line\ntight' },
        { from: 2000 * MS, to: 3000 * MS, text: 'over the first' },
      ],
      passedOver: 0,
    });
    const vtt =
      'WEBVTT - kite\n\nNOTE nothing --> to see\n\nSTYLE\n::cue { color: red }\n\nintro\n00:01.000 --> 00:02.000 align:start line:0\n<v Ida>Fish &amp; kites</v>\n';
    expect(readCaptions(vtt).cues).toEqual([{ from: 1000 * MS, to: 2000 * MS, text: 'Fish & kites' }]);
  });

  test('what makes no sense in them is passed over and counted; anything at all is read without an error', () => {
    const file = '1\n00:00:05,000 --> 00:00:02,000\nbackwards\n\n2\nnever --> ever\nwhen?\n\n3\n00:00:01,000 --> 00:00:02,000\nfine\n';
    expect(readCaptions(file)).toEqual({ cues: [{ from: 1000 * MS, to: 2000 * MS, text: 'fine' }], passedOver: 2 });
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (text) => Array.isArray(readCaptions(text).cues)));
  });
});

const speech = fc
  .array(fc.tuple(fc.integer({ min: 1, max: 3_000 }), fc.integer({ min: 50, max: 15_000 })), { minLength: 1, maxLength: 12 })
  .map((all) => {
    let at = 0;
    return all.map(([pause, lasts]): Span => {
      const from = at + pause;
      at = from + lasts;
      return [from * MS, at * MS];
    });
  });

describe('captions out of what is spoken', () => {
  test('stretches lie on frames, in order, none over another, none long, and where someone speaks', () => {
    fc.assert(
      fc.property(speech, rates, (spans, rate) => {
        let end = 0;
        for (const [from, to] of captionStretches(spans, rate)) {
          expect(onGrid(from, rate) && onGrid(to, rate)).toBe(true);
          expect(from).toBeGreaterThanOrEqual(end);
          expect(to - from).toBeLessThanOrEqual(fromSeconds(4) + frameLength(rate));
          expect(spans.some(([starts, ends]) => starts < to + frameLength(rate) && ends > from - frameLength(rate))).toBe(true);
          end = to;
        }
      }),
    );
  });

  test('a text is cut into short pieces at its sentences, with every word of it in order', () => {
    expect(captionTexts('Hold the line tight, then let it out slowly. Run! And do not look back before it stands.')).toEqual([
      'Hold the line tight,',
      'then let it out slowly.',
      'Run! And do not look',
      'back before it stands.',
    ]);
    expect(captionTexts('Hold the spars as you would hold a flute, and do not let go of the line before it stands in the wind.')).toEqual([
      'Hold the spars as you would hold a flute,',
      'and do not let go of the line',
      'before it stands in the wind.',
    ]);
    expect(captionTexts(`one ${'x'.repeat(60)} two`)).toEqual(['one', 'x'.repeat(60), 'two']);
    expect(captionTexts('la '.repeat(40_000)).join(' ')).toHaveLength(40_000 * 3 - 1);
    fc.assert(
      fc.property(fc.array(fc.stringMatching(/^[a-z]{1,12}[,.!]?$/), { minLength: 1, maxLength: 60 }), (words) => {
        const texts = captionTexts(words.join(' '));
        expect(texts.join(' ')).toBe(words.join(' '));
        for (const text of texts) expect(text.length).toBeLessThanOrEqual(42);
      }),
    );
  });

  test('where there are no spaces a text is cut between letters, and never before what closes a sentence', () => {
    expect(captionTexts('風が凧を空へ運ぶ。もっと高く上げて、それから線をゆっくり離してください。走らないで、「風」を待って。')).toEqual([
      '風が凧を空へ運ぶ。',
      'もっと高く上げて、',
      'それから線をゆっくり離してください。',
      '走らないで、「風」を待って。',
    ]);
    expect(captionTexts('Kite は凧。')).toEqual(['Kite は凧。']);
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...'風が凧を空へ運ぶ、。「」ー'), { minLength: 1, maxLength: 120 }), (letters) => {
        const text = letters.join('');
        const texts = captionTexts(text);
        expect(texts.join('')).toBe(text);
        for (const one of texts.slice(1)) expect(one).not.toMatch(/^[、。」ー]/);
      }),
    );
  });

  test('spread over speech every piece has its time, in order, and the whole lasts as long as is spoken', () => {
    fc.assert(
      fc.property(
        speech,
        rates,
        fc.array(fc.stringMatching(/^[a-z]{2,9}[,.]?$/), { minLength: 1, maxLength: 30 }),
        (spans, rate, words) => {
          const cues = spreadText(words.join(' '), spans, rate);
          expect(cues.map(({ text }) => text)).toEqual(captionTexts(words.join(' ')));
          let end = 0;
          for (const { from, to } of cues) {
            expect(onGrid(from, rate) && onGrid(to, rate)).toBe(true);
            expect(from).toBeGreaterThanOrEqual(end);
            expect(to).toBeGreaterThan(from);
            end = to;
          }
          const frame = frameLength(rate);
          expect(Math.abs(cues[0]!.from - spans[0]![0])).toBeLessThanOrEqual(frame);
        },
      ),
    );
  });

  test('a piece that ends near a pause ends with it', () => {
    const spans: Span[] = [
      [fromSeconds(1), fromSeconds(3)],
      [fromSeconds(5), fromSeconds(8)],
    ];
    const cues = spreadText('Hold the line tight.\nLet it out slowly now, please.', spans, { num: 30, den: 1 });
    expect(cues.map(({ from, to }) => [from / F / 30, to / F / 30])).toEqual([
      [1, 3],
      [5, 8],
    ]);
  });

  test('captions of a spread text can always be written', () => {
    fc.assert(
      fc.property(speech, rates, (spans, rate) => {
        const cues = spreadText('One two three, four five six. Seven eight nine ten eleven twelve!', spans, rate);
        const written = cues.map(({ from, to, text }) => ({ at: from, length: to - from, text }));
        const piece = does(emptyPiece(rate), 'caption', { cues: written });
        expect(brokenInvariants(piece)).toEqual([]);
        expect(cuesOf(piece)).toEqual(cues);
      }),
      { numRuns: 30 },
    );
  });
});
