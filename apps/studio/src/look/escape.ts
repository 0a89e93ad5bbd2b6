import { useEffect, useLayoutEffect, useRef } from 'react';

/** What stands over the screen and has the keyboard to itself, the topmost last. */
const standing: object[] = [];

/** Whether something stands over the screen, so that keys are not for what is under it. */
export const isCovered = () => standing.length > 0;

/** Has the keyboard to itself from the moment it is there (not only when it has come in), and is closed by Esc. */
export function useEscape(open: boolean, onClose: () => void): void {
  const close = useRef(onClose);
  useLayoutEffect(() => {
    close.current = onClose;
  });
  useLayoutEffect(() => {
    if (!open) return;
    const me = {};
    standing.push(me);
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || standing.at(-1) !== me) return;
      close.current();
    };
    window.addEventListener('keydown', onKey);
    return () => {
      standing.splice(standing.indexOf(me), 1);
      window.removeEventListener('keydown', onKey);
    };
  }, [open]);
}

/** Is closed by Esc while nothing stands over it; all other keys go on as ever. */
export function useClose(onClose: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || isCovered()) return;
      event.stopPropagation();
      onClose();
    };
    window.addEventListener('keydown', onKey, { capture: true });
    return () => window.removeEventListener('keydown', onKey, { capture: true });
  }, [onClose]);
}
