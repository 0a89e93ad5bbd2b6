import { create } from 'zustand';

/** The longest that anything waits for the first frame of a piece, in ms. */
const LONGEST = 1500;

/** Whether the first frame of the piece that is open is there: what is not needed to show it does not take the way of what is. */
export const useCalm = create<{ calm: boolean }>(() => ({ calm: true }));

let timer: ReturnType<typeof setTimeout> | undefined;

/** A piece is opened: what can wait, waits. */
export function hurry(): void {
  clearTimeout(timer);
  timer = setTimeout(calmDown, LONGEST);
  useCalm.setState({ calm: false });
}

/** Its first frame is there. */
export function calmDown(): void {
  clearTimeout(timer);
  useCalm.setState({ calm: true });
}

/** Resolves when nothing is in a hurry. */
export const whenCalm = (): Promise<void> =>
  useCalm.getState().calm
    ? Promise.resolve()
    : new Promise((resolve) => {
        const stop = useCalm.subscribe(({ calm }) => {
          if (!calm) return;
          stop();
          resolve();
        });
      });
