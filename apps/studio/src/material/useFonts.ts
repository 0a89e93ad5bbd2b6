import { useEffect, useState } from 'react';
import { getFonts, haveFonts } from './fonts';

/** Gets fonts, and has what asks drawn again when they are there. Whether they are, or cannot be had just now: then others stand for them. */
export function useFonts(files: readonly string[]): boolean {
  const names = [...new Set(files)].sort().join(' ');
  const [settled, setSettled] = useState<string | null>(null);
  useEffect(() => {
    const wanted = names === '' ? [] : names.split(' ');
    if (haveFonts(wanted)) return;
    let over = false;
    const settle = () => !over && setSettled(names);
    void getFonts(wanted).then(settle, settle);
    return () => {
      over = true;
    };
  }, [names]);
  return settled === names || haveFonts(files);
}
