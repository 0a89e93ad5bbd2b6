import { sameShape, shapeOf } from '../../piece';
import { rateName } from '../../time';
import { rateFor, takesRate } from '../suggest';
import type { Check } from './check';

const called = (size: { width: number; height: number }) => shapeOf(size)?.name.toLowerCase() ?? `${size.width} × ${size.height}`;

/** Another shape than the piece has. */
export const otherShape: Check = ({ piece, sent, format }) => {
  const [own, theirs] = [piece.format, sent.format];
  const [size] = format.sizes;
  if (!size || sameShape(own, theirs)) return [];
  return [
    {
      says: `A ${called(own)} piece, sent ${called(theirs)}: each clip is cut to it around its focus, and words are moved into sight.`,
      why: 'Look through it in this shape: what matters may lie outside.',
      weight: 'hurts',
      at: null,
      mends: [
        {
          label: `Make the piece ${called(theirs)}`,
          edits: {
            title: `${shapeOf(size)?.name ?? 'Another'} piece`,
            steps: [{ name: 'shape', params: { width: size.width, height: size.height } }],
          },
        },
      ],
    },
  ];
};

/** More frames a second than the format takes, or fewer. */
export const otherRate: Check = ({ piece, format }) => {
  const { rate } = piece.format;
  if (format.sizes.length === 0 || takesRate(format, rate)) return [];
  if (rate.num / rate.den < format.rates.least)
    return [
      {
        says: `${rateName(rate)} frames a second; it takes ${format.rates.least} and more.`,
        why: 'It may be refused.',
        weight: 'refused',
        at: null,
        mends: [],
      },
    ];
  return [
    {
      says: `It takes ${format.rates.most} frames a second at most: sent with ${rateName(rateFor(format, piece.format))} of the ${rateName(rate)}.`,
      why: 'Quick movements are a little less smooth.',
      weight: 'hurts',
      at: null,
      mends: [],
    },
  ];
};
