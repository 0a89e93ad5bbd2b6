import { propertyOf, type PropertyName, type PropertyValue } from '@flimzy/core/properties';
import { FigureField } from './Field';

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
