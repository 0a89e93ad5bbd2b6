import { useEffect } from 'react';
import { recover } from '../narration/takes';
import { useEditor } from '../open/editor';

/** Once a piece is open, takes up what was recorded for it and is still on this device alone. */
export function useLeftTakes(): void {
  const open = useEditor((s) => (s.session ? s.id : null));
  useEffect(() => {
    if (open !== null) void recover(open).catch(() => undefined);
  }, [open]);
}
