import type { Session } from '@flimzy/core/edits';
import { saved } from '../src/open/saved';
import { useEditor } from '../src/open/state';

const withPending = (count: number) => useEditor.setState({ id: 'piece', session: { pending: Array(count) } as unknown as Session });

/** How it stands with a promise: what came of it so far. */
function watched(promise: Promise<void>): { says: string } {
  const seen = { says: 'waits' };
  promise.then(
    () => (seen.says = 'saved'),
    (error: Error) => (seen.says = error.message),
  );
  return seen;
}
const rest = () => jest.advanceTimersByTimeAsync(0);

describe('what is done by the server with the piece', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('waits for the edits that are still on their way', async () => {
    withPending(2);
    const seen = watched(saved());
    withPending(1);
    await rest();
    expect(seen.says).toBe('waits');
    withPending(0);
    await rest();
    expect(seen.says).toBe('saved');
    expect(jest.getTimerCount()).toBe(0);
    const next = watched(saved());
    await rest();
    expect(next.says).toBe('saved');
  });

  it('is not done with less than what one sees: when the server does not answer, and when the piece is left', async () => {
    withPending(1);
    const silent = watched(saved());
    await jest.advanceTimersByTimeAsync(60_000);
    expect(silent.says).toMatch(/have not reached the server yet/);
    const left = watched(saved());
    useEditor.setState({ id: null, session: null });
    await rest();
    expect(left.says).toMatch(/have not reached the server yet/);
  });
});
