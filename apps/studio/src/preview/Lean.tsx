import { isMusicTrack, LEAN_MAX } from '@flimzy/core/piece';
import { useState } from 'react';
import { View } from 'react-native';
import { Text } from '../look/Text';
import { edit, tryEdit, useEditor, useWhole } from '../open/editor';

const words = (lean: number) => (lean === 0 ? 'as it is' : `music ${Math.abs(lean).toFixed(1)} dB ${lean > 0 ? 'softer' : 'louder'}`);

/** One control that leans the whole piece towards speech or towards music. */
export function Lean() {
  const piece = useWhole();
  const [pulled, setPulled] = useState<number | null>(null);
  if (!piece) return null;
  const kept = piece.sound?.lean ?? 0;
  const lean = pulled ?? kept;
  if (!piece.tracks.some(isMusicTrack))
    return <Text kind="small">To lean towards speech or music, say which track is music: touch its name.</Text>;
  const pull = (to: number) => {
    setPulled(to);
    const tried = tryEdit('setSound', { lean: to }, () => null);
    const { engine, playing } = useEditor.getState();
    if (typeof tried !== 'string' && playing) engine?.setPiece(tried);
  };
  const keep = () => {
    if (pulled === null) return;
    setPulled(null);
    if (pulled !== kept) edit('setSound', { lean: pulled });
    else useEditor.setState({ draft: null });
  };
  return (
    <View className="pt-1">
      <View className="flex-row justify-between">
        <Text kind="small">Music</Text>
        <Text kind="small" testID="lean-words">
          {words(lean)}
        </Text>
        <Text kind="small">Speech</Text>
      </View>
      <input
        type="range"
        aria-label="Lean towards music or speech"
        aria-valuetext={words(lean)}
        data-testid="lean"
        min={-LEAN_MAX}
        max={LEAN_MAX}
        step={0.5}
        value={lean}
        onChange={(event) => pull(Number(event.target.value))}
        onPointerUp={keep}
        onKeyUp={keep}
        onBlur={keep}
        style={{ width: '100%', height: 44, margin: 0, accentColor: 'var(--c-paper)', touchAction: 'none' }}
      />
    </View>
  );
}
