import type { Clip } from '@flimzy/core/piece';
import { changes, keys, propertyOf, valueOf, type CurveName } from '@flimzy/core/properties';
import Diamond from 'lucide-react-native/icons/diamond';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '../look/Button';
import { useEditor } from '../open/editor';
import { momentOf, toggleKeys } from '../open/framing';
import { CurveFigure } from './CurveFigure';

const USUAL: readonly CurveName[] = ['scale', 'x', 'y', 'turn', 'opacity'];
const SELDOM: readonly CurveName[] = ['focusX', 'focusY', 'cropLeft', 'cropRight', 'cropTop', 'cropBottom'];

/** The figures of some pictures, each with what sets a key of it at the playhead. */
export function FigureRows({ clips }: { clips: readonly Clip[] }) {
  const [all, setAll] = useState(false);
  const shown = all ? [...USUAL, ...SELDOM] : [...USUAL, ...SELDOM.filter((name) => clips.some((clip) => clip[name] !== undefined))];
  return (
    <View className="gap-2">
      <View className="rounded-2xl bg-raised px-4">
        {shown.map((name) => (
          <FigureRow key={name} name={name} clips={clips} />
        ))}
      </View>
      {all ? null : <Button label="Crop and focus by figures" kind="quiet" onPress={() => setAll(true)} testID="more-figures" />}
    </View>
  );
}

function FigureRow({ name, clips }: { name: CurveName; clips: readonly Clip[] }) {
  const playhead = useEditor((s) => s.playhead);
  const here = clips.every((clip) => keys.keyAt(valueOf(clip, name), momentOf(clip, playhead)));
  const some = clips.some((clip) => changes(clip[name]));
  const { label } = propertyOf(name);
  return (
    <View className="flex-row items-start gap-1">
      <View className="min-w-0 flex-1">
        <CurveFigure name={name} clips={clips} testID={`framing-${name}`} />
      </View>
      <Pressable
        accessibilityRole="button"
        accessibilityLabel={here ? `Take away the key of ${label} here` : `Set a key of ${label} here`}
        aria-pressed={here}
        onPress={() => toggleKeys(clips, name)}
        testID={`key-${name}`}
        className="h-11 w-11 items-center justify-center rounded-xl active:bg-hairline"
      >
        <Diamond size={16} color={some ? 'var(--c-ink)' : 'var(--c-muted)'} fill={here ? 'var(--c-ink)' : 'none'} strokeWidth={2} />
      </Pressable>
    </View>
  );
}
