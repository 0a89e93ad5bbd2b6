import { effectName, type Effect } from '@flimzy/core/properties';
import Down from 'lucide-react-native/icons/chevron-down';
import Eye from 'lucide-react-native/icons/eye';
import EyeOff from 'lucide-react-native/icons/eye-off';
import Up from 'lucide-react-native/icons/chevron-up';
import X from 'lucide-react-native/icons/x';
import { View } from 'react-native';
import { IconButton } from '../look/Button';
import { Text } from '../look/Text';

/** What is done to the picture, in order: each can be switched off, moved, and taken away. */
export function EffectList({ effects, onChange }: { effects: readonly Effect[]; onChange: (effects: Effect[]) => void }) {
  const moved = (from: number, to: number) => {
    const next = [...effects];
    const [one] = next.splice(from, 1);
    if (one) next.splice(to, 0, one);
    onChange(next);
  };
  const switched = (n: number) =>
    effects.map((effect, i): Effect => {
      if (i !== n) return effect;
      const { off, ...on } = effect;
      return off ? on : { ...on, off: true };
    });
  return (
    <View className="rounded-2xl bg-raised pl-4 pr-1" testID="effect-list">
      {effects.map((effect, n) => {
        const name = effectName(effect);
        return (
          <View key={`${n} ${effect.kind}`} className="flex-row items-center border-t border-hairline">
            <Text kind="note" className={`min-w-0 flex-1 ${effect.off ? 'text-muted line-through' : 'text-ink'}`}>
              {name}
            </Text>
            <IconButton
              icon={effect.off ? EyeOff : Eye}
              label={effect.off ? `Switch ${name} on` : `Switch ${name} off`}
              onPress={() => onChange(switched(n))}
              size={18}
              testID={`effect-off-${n}`}
            />
            <IconButton
              icon={Up}
              label={`${name} earlier`}
              disabled={n === 0}
              onPress={() => moved(n, n - 1)}
              size={18}
              testID={`effect-up-${n}`}
            />
            <IconButton
              icon={Down}
              label={`${name} later`}
              disabled={n === effects.length - 1}
              onPress={() => moved(n, n + 1)}
              size={18}
              testID={`effect-down-${n}`}
            />
            <IconButton
              icon={X}
              label={`Take ${name} away`}
              onPress={() => onChange(effects.filter((_, i) => i !== n))}
              size={18}
              testID={`effect-remove-${n}`}
            />
          </View>
        );
      })}
    </View>
  );
}
