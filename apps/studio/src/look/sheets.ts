import { useEffect } from 'react';
import { create } from 'zustand';

/** How many sheets stand over the screen, those apart that leave what they are about in sight. */
export const useSheets = create(() => ({ open: 0 }));

/** Counts a sheet for as long as it stands there. */
export function useCounted(stands: boolean): void {
  useEffect(() => {
    if (!stands) return;
    useSheets.setState(({ open }) => ({ open: open + 1 }));
    return () => useSheets.setState(({ open }) => ({ open: open - 1 }));
  }, [stands]);
}
