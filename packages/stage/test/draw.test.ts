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

  it('changes the colours of a picture where it lies, and what goes by its neighbours in all of the frame', () => {
    const looked = (values: Record<string, unknown>) => {
      const piece = addFrames(emptyPiece(), VIDEO, 0, 30);
      const clips = [piece.tracks[0]!.clips[0]!.id];
      const frame = evaluate(does(piece, 'set', { clips, values: { fit: 'fit', backdrop: 'black', ...values } }), 0);
      const log: string[] = [];
      const made: string[] = [];
      const scratch: Scratch<string> = {
        canvas: (n) => ({ context: recorder(log, `scratch${n}`), image: `scratch${n}` }),
        layer: (n) => ({ context: recorder(log, `group${n}`), image: `group${n}` }),
        pixels: (width, height) => {
          made.push(`${width}x${height}`);
          return { context: recorder(log, 'pixels'), image: 'pixels', change: () => undefined };
        },
      };
      drawFrame(recorder(log, 'frame'), frame, 0.5, () => ({ image: 'video', width: 1920, height: 1080 }), scratch);
      return { made, log: log.filter((line) => line.includes('image group0') || line.includes('image pixels')) };
    };
    const look = { kind: 'look', look: 'kiln', strength: 1 };
    const small = looked({ scale: 0.5, x: 0.2, effects: [look] });
    // 270 × 152 about 378, 480, and a pixel on each side for its soft edge.
    expect(small.made).toEqual(['272x154']);
    expect(small.log).toEqual([
      'pixels image group0 @1.00 242 403 272 154 0 0 272 154',
      'group0 image pixels @1.00 0 0 272 154 242 403 272 154',
      'frame image group0 @1.00 0 0 540 960',
    ]);
    expect(looked({ scale: 0.5, turn: 90, effects: [look] }).made).toEqual(['154x272']);
    expect(looked({ scale: 3, effects: [look] }).made).toEqual(['540x913']);
    expect(looked({ scale: 0.5, x: 3, effects: [look] }).made).toEqual([]);
    expect(looked({ scale: 0.5, effects: [look, { kind: 'sharpen', amount: 0.5 }] }).made).toEqual(['540x960']);
    expect(looked({ scale: 0.5, effects: [{ kind: 'blur', amount: 0.5 }, look] }).made).toEqual(['540x960']);
  });

  it('draws the same at every scale', () => {
    expect(drawn('fill', 'black', true, 1)).toContain('frame image video @1.00 -1166 0 3414 1920');
  });
});
