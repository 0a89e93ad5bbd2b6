import { MARKER_LETTERS, type Marker } from '@flimzy/core/piece';
import { formatTimecode, parseTimecode } from '@flimzy/core/time';
import Trash from 'lucide-react-native/icons/trash';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button, IconButton } from '../look/Button';
import { FigureField, TextField } from '../look/Field';
import { LetterTag } from '../look/LetterTag';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { actionOf } from '../open/actions';
import { edit, moveTo, useEditor, usePiece } from '../open/editor';
import { closePanel, usePanel } from '../open/panels';

/** The markers of the timeline: go to one, name it, give it another letter, a note, another time. */
export function MarkersPanel() {
  const open = usePanel((s) => s.panel?.name === 'markers');
  const piece = usePiece();
  const inside = useEditor((s) => s.inside);
  const [opened, setOpened] = useState<string | null>(null);
  if (!open || !piece) return null;
  const markers = piece.markers ?? [];
  return (
    <Sheet
      title="Markers"
      open
      onClose={closePanel}
      tall
      low
      testID="markers-sheet"
      footer={<Button label="Drop one at the playhead" kind="main" onPress={actionOf('mark').run} testID="drop-marker" />}
    >
      {markers.length === 0 ? (
        <Text kind="note" className="py-6 text-center">
          No markers yet. Drop one at the playhead, also while playing; the key is B.
        </Text>
      ) : null}
      {markers.map((marker) => (
        <View key={marker.id} className="border-b border-hairline" testID="marker-line">
          <View className="min-h-[52px] flex-row items-center gap-2">
            <LetterTag letter={marker.letter} />
            <Pressable
              accessibilityRole="button"
              accessibilityLabel={`Go to ${marker.name || `marker ${marker.letter}`}`}
              className="min-h-[44px] flex-1 justify-center"
              onPress={() => {
                moveTo(marker.time);
                closePanel();
              }}
            >
              <Text numberOfLines={1}>{marker.name || `Marker ${marker.letter}`}</Text>
              <Text kind="small" className="font-mono">
                {formatTimecode(marker.time, piece.format.rate)}
              </Text>
            </Pressable>
            <Button
              label={opened === marker.id ? 'Done' : 'Change'}
              kind="quiet"
              onPress={() => setOpened(opened === marker.id ? null : marker.id)}
            />
            <IconButton
              label={`Remove ${marker.name || `marker ${marker.letter}`}`}
              icon={Trash}
              onPress={() => edit('unmark', { place: { inside }, ids: [marker.id] })}
            />
          </View>
          {opened === marker.id ? <MarkerFields marker={marker} inside={inside} /> : null}
        </View>
      ))}
    </Sheet>
  );
}

function MarkerFields({ marker, inside }: { marker: Marker; inside: string | null }) {
  const piece = usePiece();
  const [name, setName] = useState(marker.name);
  const [note, setNote] = useState(marker.note);
  if (!piece) return null;
  const change = (values: Partial<Omit<Marker, 'id'>>) => edit('setMark', { place: { inside }, id: marker.id, change: values });
  const time = (text: string) => {
    const to = parseTimecode(text, piece.format.rate, marker.time);
    if (to === null || to < 0) return 'Write a time such as 0:04.12.';
    return change({ time: to }) ? null : 'It cannot go there.';
  };
  return (
    <View className="gap-3 pb-4">
      <View className="flex-row gap-1.5" accessibilityRole="radiogroup" accessibilityLabel="Letter">
        {MARKER_LETTERS.map((letter) => (
          <Pressable
            key={letter}
            accessibilityRole="radio"
            accessibilityLabel={`Letter ${letter}`}
            aria-checked={letter === marker.letter}
            onPress={() => change({ letter })}
            className={`min-h-[44px] flex-1 items-center justify-center rounded-xl ${letter === marker.letter ? 'bg-hairline' : ''}`}
          >
            <LetterTag letter={letter} />
          </Pressable>
        ))}
      </View>
      <TextField label="Name" value={name} onChange={setName} testID="marker-name" />
      <TextField label="Note" value={note} onChange={setNote} testID="marker-note" />
      <FigureField label="At" value={formatTimecode(marker.time, piece.format.rate)} onSubmit={time} testID="marker-time" />
      <Button label="Keep" onPress={() => change({ name, note })} testID="marker-keep" />
    </View>
  );
}
