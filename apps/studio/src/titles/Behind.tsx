import type { ShapePart, TextPart } from '@flimzy/core/properties';
import { View } from 'react-native';
import { Choice } from '../look/Choice';
import { Colours } from '../look/Colours';
import { NumberField } from '../look/NumberField';
import { Text } from '../look/Text';

type Both = Pick<TextPart, 'outline' | 'shadow'>;

interface OutlineProps {
  part: TextPart | ShapePart;
  set: (change: Partial<Both>) => boolean;
  near: readonly string[];
}

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
            <View className="rounded-2xl bg-raised px-4">
              <NumberField
                label="Width"
                value={outline.width}
                least={0.005}
                most={0.3}
                step={0.005}
                shown={100}
                unit="%"
                digits={1}
                onChange={(width) => set({ outline: { ...outline, width } })}
                testID="outline-width"
              />
            </View>
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
            <View className="rounded-2xl bg-raised px-4">
              <NumberField
                label="Spread"
                value={shadow.blur}
                least={0}
                most={1}
                step={0.02}
                shown={100}
                unit="%"
                onChange={(blur) => set({ shadow: { ...shadow, blur } })}
                testID="shadow-blur"
              />
              <NumberField
                label="Away"
                value={shadow.by}
                least={-1}
                most={1}
                step={0.01}
                shown={100}
                unit="%"
                onChange={(by) => set({ shadow: { ...shadow, by } })}
                testID="shadow-by"
              />
            </View>
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
            <View className="rounded-2xl bg-raised px-4">
              <NumberField
                label="Opacity"
                value={panel.opacity}
                least={0}
                most={1}
                step={0.05}
                shown={100}
                unit="%"
                onChange={(opacity) => set({ panel: { ...panel, opacity } })}
                testID="panel-opacity"
              />
              <NumberField
                label="Round corners"
                value={panel.round}
                least={0}
                most={1}
                step={0.05}
                shown={100}
                unit="%"
                onChange={(round) => set({ panel: { ...panel, round } })}
                testID="panel-round"
              />
            </View>
          </>
        ) : null}
      </View>
      <Around part={part} set={set} near={near} />
    </View>
  );
}
