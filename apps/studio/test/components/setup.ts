/** What a browser has and the tests' environment has not: a store, ids, and a window that hears keys. */
const kept = new Map<string, string>();
Object.assign(globalThis, {
  localStorage: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
    clear: () => kept.clear(),
  },
});
let count = 0;
const crypto = { randomUUID: () => `00000000-0000-4000-9000-${String((count += 1)).padStart(12, '0')}` };
Object.assign(globalThis, { crypto: { ...globalThis.crypto, ...crypto } });
