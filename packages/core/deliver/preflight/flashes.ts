import { formatTimecode, frameStart } from '../../time';
import { isSoundOnly } from '../platform';
import type { Check } from './check';

/** What flashes so that it can harm. */
export const flashing: Check = ({ piece, format, flashes }) => {
  if (isSoundOnly(format)) return [];
  const { rate } = piece.format;
  const time = (t: number) => formatTimecode(t, rate);
  return flashes.map(({ first, last }) => {
    const [from, to] = [frameStart(first, rate), frameStart(last + 1, rate)];
    return {
      says: `It flashes more than three times a second from ${time(from)} on, for ${time(to - from)}.`,
      why: 'It can give people who see it a seizure.',
      weight: 'hurts',
      at: from,
      mends: [
        {
          label: `Take out ${time(to - from)}`,
          edits: { title: `Take out what flashes at ${time(from)}`, steps: [{ name: 'takeOutStretch', params: { from, to } }] },
        },
      ],
    };
  });
};
