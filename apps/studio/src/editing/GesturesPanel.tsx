import Hand from 'lucide-react-native/icons/hand';
import MousePointerClick from 'lucide-react-native/icons/pointer';
import MoveVertical from 'lucide-react-native/icons/move-vertical';
import SquareDashed from 'lucide-react-native/icons/square-dashed-mouse-pointer';
import GripHorizontal from 'lucide-react-native/icons/grip-horizontal';
import AudioLines from 'lucide-react-native/icons/audio-lines';
import ZoomIn from 'lucide-react-native/icons/zoom-in';
import { useEffect } from 'react';
import { View } from 'react-native';
import { Button, type Icon } from '../look/Button';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { closePanel, openPanel, usePanel } from '../open/panels';

const SEEN = 'flimzy.gestures-seen';

const GESTURES: readonly [Icon, string, string][] = [
  [MoveVertical, 'Scroll', 'Time runs down: scrolling moves the playhead.'],
  [ZoomIn, 'Pinch', 'Closer and wider, around the playhead.'],
  [MousePointerClick, 'Touch a clip', 'Selects it; below are the few things it can do.'],
  [GripHorizontal, 'Pull a tab', 'Trims that end; the bubble says what follows.'],
  [AudioLines, 'Pull a sound edge', 'Lets sound start before or end after its picture.'],
  [Hand, 'Hold, then drag', 'Moves clips, also to other tracks and past the last one.'],
  [SquareDashed, 'Several, then drag on empty ground', 'Draws a box around what is to be selected.'],
];

/** The touch gestures: shown once on a new device, and whenever asked for. */
export function GesturesPanel() {
  const open = usePanel((s) => s.panel?.name === 'gestures');
  useEffect(() => {
    if (navigator.maxTouchPoints === 0 || localStorage.getItem(SEEN)) return;
    openPanel({ name: 'gestures' });
  }, []);
  const done = () => {
    localStorage.setItem(SEEN, 'yes');
    closePanel();
  };
  if (!open) return null;
  return (
    <Sheet
      title="With your thumb"
      open
      onClose={done}
      testID="gestures-sheet"
      footer={<Button label="Start cutting" kind="main" onPress={done} testID="gestures-done" />}
    >
      <View className="gap-3">
        {GESTURES.map(([Glyph, name, does]) => (
          <View key={name} className="flex-row items-center gap-4">
            <View className="h-11 w-11 items-center justify-center rounded-full bg-raised">
              <Glyph size={20} color="var(--c-ink)" />
            </View>
            <View className="min-w-0 flex-1">
              <Text kind="label">{name}</Text>
              <Text kind="note">{does}</Text>
            </View>
          </View>
        ))}
        <Text kind="small">All of this again: More, then “Show the touch gestures”.</Text>
      </View>
    </Sheet>
  );
}
