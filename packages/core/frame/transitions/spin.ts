import { eased, grown, whole, type TransitionKindEntry } from './kind';

/** How far both pictures turn, in degrees. */
const TURN = 70;

/** Both pictures turn, one through the other, large enough that no corner of the frame is left open. */
export const spin: TransitionKindEntry = {
  takes: [],
  draw: (p, from, to, frame) => {
    const way = eased(p);
    const large = (turned: number) => 1 + 1.4 * Math.sin((Math.min(90, Math.abs(turned)) * Math.PI) / 180);
    const [out, come] = [TURN * way, TURN * (way - 1)];
    return [
      ...whole(to, to.length === 0 ? 0 : 1, { placed: grown(frame, large(come), come) }),
      ...whole(from, 1 - way, { placed: grown(frame, large(out), out) }),
    ];
  },
};
