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
  const { label, figure, say } = propertyOf(name);
  const [first] = clips;
  if (!figure || !first) return null;
  const value = valueOf(first, name);
  const set = (to: PropertyValue<N>) => edit('set', { clips: clips.map((clip) => clip.id), values: { [name]: to } });
  return (
    <FigureField
      label={label}
      testID={`card-${name}`}
      value={clips.every((clip) => valueOf(clip, name) === value) ? say(value) : 'differ'}
      onSubmit={(text) => {
        const typed = figure.read(text);
        return typed === null ? figure.hint : set(typed) ? null : 'It cannot be set.';
      }}
      onStep={(by) => set(figure.step(value, by))}
    />
  );
}
