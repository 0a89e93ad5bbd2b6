import fc from 'fast-check';
import { CODE_BITS, codeBits, readCode } from '../code';

describe('the frame code', () => {
  it('reads back every number, also through noise', () => {
    fc.assert(
      fc.property(
        fc.nat(2 ** CODE_BITS - 1),
        fc.array(fc.integer({ min: -90, max: 90 }), { minLength: CODE_BITS + 3, maxLength: CODE_BITS + 3 }),
        (n, noise) => readCode(codeBits(n).map((bit, i) => bit * 255 + (bit ? -1 : 1) * Math.abs(noise[i] ?? 0))) === n,
      ),
    );
  });

  it('gives nothing rather than a wrong number when one square is misread', () => {
    fc.assert(
      fc.property(
        fc.nat(2 ** CODE_BITS - 1),
        fc.nat(CODE_BITS + 2),
        (n, wrong) => readCode(codeBits(n).map((bit, i) => (i === wrong ? 1 - bit : bit) * 255)) === null,
      ),
    );
  });
});
