import type { ShapePart, TextPart } from '@flimzy/core/properties';
import { View } from 'react-native';
import { Choice } from '../look/Choice';
import { Colours } from '../look/Colours';
import { Text } from '../look/Text';
import { Figures, type Figure } from './Figures';

type Both = Pick<TextPart, 'outline' | 'shadow'>;

interface OutlineProps {
  part: TextPart | ShapePart;
  set: (change: Partial<Both>) => boolean;
  near: readonly string[];
}

const OUTLINE: readonly Figure<NonNullable<TextPart['outline']>>[] = [
  { name: 'width', label: 'Width', least: 0.005, most: 0.3, step: 0.005, digits: 1 },
];
const SHADOW: readonly Figure<NonNullable<TextPart['shadow']>>[] = [
  { name: 'blur', label: 'Spread', least: 0, most: 1, step: 0.02 },
  { name: 'by', label: 'Away', least: -1, most: 1, step: 0.01 },
];
const PANEL: readonly Figure<NonNullable<TextPart['panel']>>[] = [
  { name: 'opacity', label: 'Opacity', least: 0, most: 1, step: 0.05 },
  { name: 'round', label: 'Round corners', least: 0, most: 1, step: 0.05 },
];

const YES_NO = (yes: string) => [{ id: 'no', name: 'None' } as const, { id: 'yes', name: yes } as const];

/** The line around a part, and its shadow. */
export function Around({ part, set, near }: OutlineProps) {
  const { outline, shadow } = part;
  return (
    <>
      <View className="gap-2">
        <Text kind="label">Outline</Text>
        <Choice
          label="Outline"
          value={outline ? 'yes' : 'no'}
          options={YES_NO('Around it')}
          onChange={(value) => set({ outline: value === 'no' ? null : { colour: '#17191a', width: 0.06 } })}
        />
        {outline ? (
          <>
            <Colours
              label="Outline colour"
              value={outline.colour}
              onChange={(colour) => set({ outline: { ...outline, colour } })}
              near={near}
              testID="outline-colour"
            />
            <Figures of={outline} figures={OUTLINE} set={(change) => set({ outline: { ...outline, ...change } })} called="outline" />
          </>
        ) : null}
      </View>
      <View className="gap-2">
        <Text kind="label">Shadow</Text>
        <Choice
          label="Shadow"
          value={shadow ? 'yes' : 'no'}
          options={YES_NO('Behind it')}
          onChange={(value) => set({ shadow: value === 'no' ? null : { colour: '#000000', blur: 0.18, by: 0.04 } })}
        />
        {shadow ? (
          <>
            <Colours
              label="Shadow colour"
              value={shadow.colour}
              onChange={(colour) => set({ shadow: { ...shadow, colour } })}
              near={near}
              testID="shadow-colour"
            />
            <Figures of={shadow} figures={SHADOW} set={(change) => set({ shadow: { ...shadow, ...change } })} called="shadow" />
          </>
        ) : null}
      </View>
    </>
  );
}

const PANELS = [
  { id: 'none', name: 'None' },
  { id: 'block', name: 'Behind all' },
  { id: 'lines', name: 'Behind each line' },
] as const;

/** What is behind and around a text. */
export function Behind({ part, set, near }: { part: TextPart; set: (change: Partial<TextPart>) => boolean; near: readonly string[] }) {
  const { panel } = part;
  return (
    <View className="gap-3">
      <View className="gap-2">
        <Text kind="label">Panel</Text>
        <Choice
          label="Panel"
          value={panel?.by ?? 'none'}
          options={PANELS}
          onChange={(by) => set({ panel: by === 'none' ? null : { ...(panel ?? { colour: '#17191a', opacity: 0.85, round: 0.2 }), by } })}
        />
        {panel ? (
          <>
            <Colours
              label="Panel colour"
              value={panel.colour}
              onChange={(colour) => set({ panel: { ...panel, colour } })}
              near={near}
              testID="panel-colour"
            />
            <Figures of={panel} figures={PANEL} set={(change) => set({ panel: { ...panel, ...change } })} called="panel" />
          </>
        ) : null}
      </View>
      <Around part={part} set={set} near={near} />
    </View>
  );
}
