import { evaluate } from '@flimzy/core/frame';
import { drawFrame, type DrawContext, type Scratch } from '..';
import { addFrames, does, emptyPiece, VIDEO } from '../../core/test/making';

/** Writes down what is drawn. */
function recorder(log: string[], name: string): DrawContext<string> {
  const drawing: Partial<DrawContext<string>> = {
    globalAlpha: 1,
    fillStyle: '',
    imageSmoothingEnabled: false,
    fillRect(...r) {
      log.push(`${name} fill ${String(drawing.fillStyle)} @${drawing.globalAlpha?.toFixed(2)} ${r.join(' ')}`);
    },
    drawImage(image: string, ...r: number[]) {
      log.push(`${name} image ${image} @${drawing.globalAlpha?.toFixed(2)} ${r.map((n) => Math.round(n)).join(' ')}`);
    },
    clearRect(...r) {
      log.push(`${name} clear ${r.join(' ')}`);
    },
    save: () => undefined,
    restore: () => undefined,
    setTransform: (...m) => {
      if (m.join(' ') !== '1 0 0 1 0 0') log.push(`${name} transform ${m.map((n) => Math.round(n * 100) / 100).join(' ')}`);
    },
    globalCompositeOperation: 'source-over',
    createRadialGradient: () => ({ addColorStop: (at, colour) => log.push(`${name} stop ${at} ${colour}`) }),
    createLinearGradient: () => ({ addColorStop: (at, colour) => log.push(`${name} stop ${at} ${colour}`) }),
  };
  return drawing as DrawContext<string>;
}

function drawn(fit: 'fit' | 'fill', backdrop: 'blur' | 'black', there = true, scale = 0.5, opacity = 1): string[] {
  const piece = addFrames(emptyPiece(), VIDEO, 0, 30);
  const frame = evaluate(does(piece, 'set', { clips: [piece.tracks[0]!.clips[0]!.id], values: { fit, backdrop, opacity } }), 0);
  const log: string[] = [];
  const scratch: Scratch<string> = {
    canvas: (n) => ({ context: recorder(log, `scratch${n}`), image: `scratch${n}` }),
    layer: (n) => ({ context: recorder(log, `group${n}`), image: `group${n}` }),
    pixels: () => ({ context: recorder(log, 'pixels'), image: 'pixels', change: () => undefined }),
  };
  drawFrame(recorder(log, 'frame'), frame, scale, () => (there ? { image: 'video', width: 1920, height: 1080 } : null), scratch);
  return log;
}

describe('the compositor', () => {
  it('begins every frame in black, so that nothing of the last one shows through', () => {
    expect(drawn('fill', 'black')[0]).toBe('frame fill #000000 @1.00 0 0 540 960');
  });

  it('covers the frame with a picture that fills it, cut evenly on both sides', () => {
    expect(drawn('fill', 'black')).toContain('frame image video @1.00 -583 0 1707 960');
  });

  it('shows the whole picture over its own blur, darkened, and never the other way round', () => {
    const log = drawn('fit', 'blur').filter((line) => line.startsWith('frame'));
    expect(log.map((line) => line.split(' ').slice(1, 3).join(' '))).toEqual([
      'fill #000000',
      'image scratch0',
      'fill #000000',
      'image video',
    ]);
    expect(log.at(-1)).toBe('frame image video @1.00 0 328 540 304');
  });

  it('spreads a backdrop evenly: five places of the small picture, each with its equal share', () => {
    const log = drawn('fit', 'blur').filter((line) => line.includes('image scratch1') && line.startsWith('scratch2'));
    expect(log.slice(0, 5).map((line) => line.split(' ').slice(3, 6).join(' '))).toEqual([
      '@1.00 0 0',
      '@0.50 1 0',
      '@0.33 -1 0',
      '@0.25 0 1',
      '@0.20 0 -1',
    ]);
  });

  it('leaves out a picture that is not there instead of failing', () => {
    expect(drawn('fit', 'blur', false)).toHaveLength(1);
  });

  it('draws what is half there at half, and a picture with its backdrop as one, on a canvas that was cleared', () => {
    expect(drawn('fill', 'black', true, 0.5, 0.5).slice(1)).toEqual(['frame image video @0.50 -583 0 1707 960']);
    const log = drawn('fit', 'blur', true, 0.5, 0.25).filter((line) => !line.startsWith('scratch'));
    expect(log.map((line) => line.split(' ').slice(0, 4).join(' '))).toEqual([
      'frame fill #000000 @1.00',
      'group0 clear 0 0',
      'group0 image scratch0 @1.00',
      'group0 fill #000000 @0.38',
      'group0 image video @1.00',
      'frame image group0 @0.25',
    ]);
  });

  it('draws the same at every scale', () => {
    expect(drawn('fill', 'black', true, 1)).toContain('frame image video @1.00 -1166 0 3414 1920');
  });
});
