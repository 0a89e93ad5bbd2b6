import { presetValues, TITLE_PRESETS, type TitlePreset } from '@flimzy/core/frame';
import type { Clip } from '@flimzy/core/piece';
import type { Overlay } from '@flimzy/core/properties';
import { Pressable, ScrollView, View } from 'react-native';
import { Text } from '../look/Text';
import { moveTo } from '../open/editor';
import { setTitle, wholeAt } from '../open/titles';
import { TitleThumb } from './TitleThumb';

/** The texts of a title, the largest first. */
const bySize = (overlay: Overlay) =>
  overlay.parts.flatMap((part) => (part.kind === 'text' ? [part] : [])).sort((one, other) => other.size - one.size);

/** A preset with the words of a title: the largest are the largest; what it has more of keeps its own. */
function withWords(preset: TitlePreset, overlay: Overlay): TitlePreset {
  const words = bySize(overlay).map(({ text }) => text);
  const ranks = bySize(preset.overlay);
  const parts = preset.overlay.parts.map((part) =>
    part.kind === 'text' ? { ...part, text: words[ranks.indexOf(part)] ?? part.text } : part,
  );
  return { ...preset, overlay: { parts } };
}

/** Our own set, each shown with the words at hand. */
interface PresetsProps {
  clip: Clip;
  overlay: Overlay;
  format: { width: number; height: number };
  onChosen: () => void;
}

export function Presets({ clip, overlay, format, onChosen }: PresetsProps) {
  const width = format.width > format.height ? 116 : 72;
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false}>
      <View className="flex-row gap-2">
        {TITLE_PRESETS.map((preset) => {
          const own = withWords(preset, overlay);
          return (
            <Pressable
              key={preset.id}
              accessibilityRole="button"
              accessibilityLabel={`${preset.name}: ${preset.use}`}
              onPress={() => {
                const values = presetValues(own);
                if (!setTitle(clip, values)) return;
                moveTo(wholeAt({ ...clip, ...values }));
                onChosen();
              }}
              testID={`preset-${preset.id}`}
              className="items-center gap-1 rounded-xl p-1 active:bg-raised"
            >
              <TitleThumb overlay={own.overlay} format={format} width={width} />
              <Text kind="small">{preset.name}</Text>
            </Pressable>
          );
        })}
      </View>
    </ScrollView>
  );
}
