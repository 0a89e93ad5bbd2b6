import { useEffect, useRef } from 'react';
import { useMedia } from '../api/queries';
import type { PreviewEngine } from '../open/engine';

/**
 * Tells a preview of items that can now be shown otherwise than before: at all, or by their proxies instead of their originals.
 * @param show draws the frame that is on screen once more
 */
export function useRenewed(engine: PreviewEngine | null, show: (engine: PreviewEngine) => void): void {
  const { data: items } = useMedia();
  const known = useRef(new Map<string, string>());
  useEffect(() => {
    const renewed = (items ?? []).filter(({ id, status, usable }) => {
      const [before, now] = [known.current.get(id), `${status} ${usable}`];
      known.current.set(id, now);
      return before !== undefined && before !== now;
    });
    if (!engine || renewed.length === 0) return;
    for (const { id } of renewed) engine.renew(id);
    show(engine);
  }, [engine, items, show]);
}
