import { createElement, useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import { NumberField, short, type NumberFieldProps } from './NumberField';

interface SliderFieldProps extends Omit<NumberFieldProps, 'onChange'> {
  /** Shows what a value would be, while it is dragged. */
  onLook: (value: number) => void;
  /** Sets it; whether that could be done. */
  onKeep: (value: number) => boolean;
}

/** A number that is dragged, or typed. */
export function SliderField({ onLook, onKeep, ...field }: SliderFieldProps) {
  const { label, value, least, most, step, testID } = field;
  const [held, setHeld] = useState<number | null>(null);
  const node = useRef<HTMLInputElement>(null);
  const keep = useRef(onKeep);
  useEffect(() => {
    keep.current = onKeep;
  });
  useEffect(() => {
    const input = node.current;
    // The browser's own "change": once, when the finger lifts; React's comes at every step.
    const done = () => {
      if (input) keep.current(short(Number(input.value)));
      setHeld(null);
    };
    input?.addEventListener('change', done);
    return () => input?.removeEventListener('change', done);
  }, []);
  return (
    <View>
      <NumberField {...field} value={held ?? value} onChange={onKeep} />
      <View className="-mt-1.5 pb-1.5">
        {createElement('input', {
          ref: node,
          type: 'range',
          min: least,
          max: most,
          step,
          value: held ?? value,
          'aria-label': `${label}, dragged`,
          'data-testid': `${testID}-slider`,
          onChange: (event: { target: { value: string } }) => {
            const now = short(Number(event.target.value));
            setHeld(now);
            onLook(now);
          },
          style: { width: '100%', height: 32, margin: 0, accentColor: 'var(--c-ink)', touchAction: 'pan-y', cursor: 'pointer' },
        })}
      </View>
    </View>
  );
}
