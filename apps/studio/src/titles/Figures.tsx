import { View } from 'react-native';
import { NumberField } from '../look/NumberField';

/** A figure of something that has several: its field, and how it is typed and stepped. */
export interface Figure<T> {
  name: { [K in keyof T]: T[K] extends number ? K : never }[keyof T] & string;
  label: string;
  least: number;
  most: number;
  step: number;
  /** Missing: a percentage of 1. */
  unit?: '°';
  digits?: number;
}

interface FiguresProps<T> {
  of: T;
  figures: readonly Figure<T>[];
  set: (change: Partial<T>) => boolean;
  /** Before the name of the field: what tests call it. */
  called: string;
}

/** The figures of a part of a title. */
export function Figures<T extends object>({ of, figures, set, called }: FiguresProps<T>) {
  return (
    <View className="rounded-2xl bg-raised px-4">
      {figures.map(({ name, unit, ...figure }) => (
        <NumberField
          key={name}
          {...figure}
          value={of[name] as number}
          shown={unit ? 1 : 100}
          unit={unit ?? '%'}
          onChange={(value) => set({ [name]: value } as Partial<T>)}
          testID={`${called}-${name}`}
        />
      ))}
    </View>
  );
}

/** Where a part lies in the frame. */
export const PLACE = [
  { name: 'x', label: 'From the left', least: -1, most: 2, step: 0.01, digits: 1 },
  { name: 'y', label: 'From above', least: -1, most: 2, step: 0.01, digits: 1 },
] as const;
