import { z } from 'zod';
import { create, type StoreApi, type UseBoundStore } from 'zustand';

/** Settings of a person on this device. */
export interface Kept<T> {
  /** What they are now. */
  use: UseBoundStore<StoreApi<T>>;
  /** Changes some; false when they make no sense, and nothing is changed. */
  set: (change: Partial<T>) => boolean;
}

/** Settings kept on this device under a name; what makes no sense there counts as never chosen. */
export function kept<S extends z.ZodObject>(name: string, schema: S): Kept<z.output<S>> {
  const read = (): z.output<S> => {
    try {
      return schema.parse(JSON.parse(localStorage.getItem(name) ?? '{}'));
    } catch {
      return schema.parse({});
    }
  };
  const use = create<z.output<S>>(read);
  const set = (change: Partial<z.output<S>>): boolean => {
    const next = schema.safeParse({ ...use.getState(), ...change });
    if (!next.success) return false;
    use.setState(next.data);
    try {
      localStorage.setItem(name, JSON.stringify(next.data));
    } catch {
      // A full storage keeps it until the page is closed.
    }
    return true;
  };
  return { use, set };
}
