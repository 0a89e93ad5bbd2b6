import { z } from 'zod';
import { Backdrop, Fit } from '../properties';

/** Edits as they were asked for by earlier versions of the app, some of which may wait unsent on a phone: what they are called now. */
const FORMER: Record<string, (params: unknown) => { name: string; params: unknown } | null> = {
  level: former(z.object({ clip: z.string(), level: z.number() }), ({ clip, level }) => ({ clips: [clip], values: { level } })),
  fit: former(z.object({ clip: z.string(), fit: Fit, backdrop: Backdrop }), ({ clip, ...values }) => ({ clips: [clip], values })),
};

function former<S extends z.ZodType>(schema: S, now: (params: z.output<S>) => unknown) {
  return (raw: unknown) => {
    const parsed = schema.safeParse(raw);
    return parsed.success ? { name: 'set', params: now(parsed.data) } : null;
  };
}

/** An edit by its name of today. */
export function asCalledNow(name: string, params: unknown): { name: string; params: unknown } {
  const was = Object.hasOwn(FORMER, name) ? FORMER[name]?.(params) : null;
  return was ?? { name, params };
}
