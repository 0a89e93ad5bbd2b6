import type { z } from 'zod';
import { fromSeconds, type Flicks } from '../time';

/** One property of a clip: all that the card, edits, undo and tidying know of it. */
export interface Property<S extends z.ZodType, Always extends boolean> {
  schema: S;
  /** What a new clip has, and what a missing field stands for. */
  plain: z.output<S>;
  /** True: every clip has the field (those of the first documents). False: it is missing where it is plain. */
  always: Always;
  /** Whether it belongs to a clip's picture or to its sound. */
  side: 'picture' | 'sound';
  label: string;
  /** Whether it can change within a clip. */
  keys: boolean;
  /** The card shows it only on clips that have it: it has a panel of its own. */
  seldom?: true;
  /** Whether it says anything on a clip with these other values; always, where this is missing. */
  shown?(values: Readonly<Record<string, unknown>>): boolean;
  /** As a person reads it, unit included. */
  say(value: z.output<S>): string;
  /** A figure that can be typed and stepped; missing where it is chosen from a few. */
  figure?: Figure<z.output<S>>;
  /** What history calls setting it on some clips. */
  title(value: z.output<S>, clips: string): string;
}

export interface Figure<V> {
  /** What was typed, brought within its bounds; null when it is none. */
  read(text: string): V | null;
  /** Said when it is none. */
  hint: string;
  /** One step up or down. */
  step(value: V, by: 1 | -1): V;
}

export function defineProperty<S extends z.ZodType, Always extends boolean>(property: Property<S, Always>): Property<S, Always> {
  return property;
}

/** A number as people type it: with a comma, a true minus, or its unit; null when it is none. */
export function typedNumber(text: string, unit: RegExp): number | null {
  const plain = text.replace(unit, '').replace('−', '-').replace(',', '.').trim();
  const value = Number(plain);
  return plain !== '' && Number.isFinite(value) ? value : null;
}

/** Seconds as people type them, with or without the unit, in flicks; null when it is none. */
export function typedSeconds(text: string): Flicks | null {
  const seconds = typedNumber(text, /s(ec(onds?)?)?\s*$/i);
  return seconds === null ? null : fromSeconds(seconds);
}
