import type { Clip } from '@flimzy/core/piece';
import { PROPERTY_NAMES, propertyOf, valueOf, type PropertyName, type PropertyValue } from '@flimzy/core/properties';
import { FigureField } from '../look/Field';
import { edit } from '../open/editor';

interface PropertyFiguresProps {
  /** The clips they are of: what is set is set on all of them. */
  clips: readonly Clip[];
  /** Whether these clips all have that side. */
  has: (side: 'picture' | 'sound') => boolean;
}

/** Whether a property has something to say on clips. */
function isShown(name: PropertyName, clips: readonly Clip[]): boolean {
  const { figure, shown } = propertyOf(name);
  return figure !== undefined && clips.every((clip) => shown?.(clip) ?? true);
}

/** The figures of every property of clips that can be typed, from the table of properties. */
export function PropertyFigures({ clips, has }: PropertyFiguresProps) {
  return (
    <>
      {PROPERTY_NAMES.filter((name) => isShown(name, clips) && has(propertyOf(name).side)).map((name) => (
        <PropertyFigure key={name} name={name} clips={clips} />
      ))}
    </>
  );
}

function PropertyFigure<N extends PropertyName>({ name, clips }: { name: N; clips: readonly Clip[] }) {
  const [first] = clips;
  if (!first) return null;
  const value = valueOf(first, name);
  return (
    <FigureOf
      name={name}
      value={value}
      differ={clips.some((clip) => valueOf(clip, name) !== value)}
      set={(to) => edit('set', { clips: clips.map((clip) => clip.id), values: { [name]: to } })}
      testID={`card-${name}`}
    />
  );
}

interface FigureOfProps<N extends PropertyName> {
  name: N;
  /** What it is called, where that is not the property's own name. */
  label?: string;
  value: PropertyValue<N>;
  /** Several have other values than this one. */
  differ?: boolean;
  /** Sets it; whether that could be done. */
  set: (to: PropertyValue<N>) => boolean;
  testID: string;
}

/** The figure of a property, of a clip or of whatever else has one: typed and stepped as its entry in the table says. */
export function FigureOf<N extends PropertyName>({ name, label, value, differ = false, set, testID }: FigureOfProps<N>) {
  const { label: called, figure, say } = propertyOf(name);
  if (!figure) return null;
  return (
    <FigureField
      label={label ?? called}
      testID={testID}
      value={differ ? 'differ' : say(value)}
      onSubmit={(text) => {
        const typed = figure.read(text);
        return typed === null ? figure.hint : set(typed) ? null : 'It cannot be set.';
      }}
      onStep={(by) => set(figure.step(value, by))}
    />
  );
}
