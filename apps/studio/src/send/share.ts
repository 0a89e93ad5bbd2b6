import { useState } from 'react';
import { say } from '../look/Toast';

/** Whether the system's share sheet takes a file of this kind. */
export const canShare = (name: string, type: string): boolean =>
  typeof navigator.canShare === 'function' && navigator.canShare({ files: [new File([], name, { type })] });

/** Hands a file to the system's share sheet. A second touch is needed where fetching it took longer than the system waits. */
export function useShare(name: string, title: string, get: () => Promise<Blob>, type: string) {
  const [ready, setReady] = useState<File | null>(null);
  const [busy, setBusy] = useState(false);
  const share = async () => {
    try {
      setBusy(true);
      const file = ready ?? new File([await get()], name, { type });
      setReady(file);
      await navigator.share({ files: [file], title });
    } catch (error) {
      const { name: what } = error as Error;
      if (what === 'NotAllowedError') say('The file is here now: touch Share once more.');
      else if (what !== 'AbortError') say('It could not be shared. Download it instead.');
    } finally {
      setBusy(false);
    }
  };
  return { share: () => void share(), busy };
}
