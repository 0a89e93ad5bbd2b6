import { useEditor } from './state';

/** How long it is waited for a server that does not take in what was done, in ms. */
const PATIENCE = 15_000;

/**
 * Waits until the server has all that was done to the open piece: what it exports, keeps and estimates is what it has. @throws Error with a
 * sentence when it does not answer, or the piece was left meanwhile
 */
export function saved(): Promise<void> {
  const { id, session } = useEditor.getState();
  if (!session || session.pending.length === 0) return Promise.resolve();
  return new Promise((resolve, reject) => {
    const end = (then: () => void) => {
      stop();
      clearTimeout(timer);
      then();
    };
    const fail = () => reject(new Error('Your last edits have not reached the server yet. They are kept here: try again when it answers.'));
    const stop = useEditor.subscribe((now) => {
      if (now.id !== id) end(fail);
      else if (now.session?.pending.length === 0) end(resolve);
    });
    const timer = setTimeout(() => end(fail), PATIENCE);
  });
}
