import { webcrypto } from 'node:crypto';

/** A browser's storage, as far as it is used: its keys are its own properties. */
class MemoryStorage {
  [key: string]: unknown;

  getItem(key: string): string | null {
    return Object.hasOwn(this, key) ? String(this[key]) : null;
  }
  setItem(key: string, value: string): void {
    this[key] = String(value);
  }
  removeItem(key: string): void {
    Reflect.deleteProperty(this, key);
  }
  clear(): void {
    for (const key of Object.keys(this)) Reflect.deleteProperty(this, key);
  }
}

/** What a browser has and the tests' environment has not: a store, and random numbers. */
Object.assign(globalThis, { localStorage: new MemoryStorage(), crypto: webcrypto });
