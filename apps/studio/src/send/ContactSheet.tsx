import { sheetFrames, SHEET_MOST, type SheetWish } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { useState } from 'react';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { NumberField } from '../look/NumberField';
import { Progress } from '../look/Progress';
import { Text } from '../look/Text';
import { say } from '../look/Toast';
import { useEditor } from '../open/editor';
import { saveContactSheet } from './drawSheet';

/** All of the piece at a glance, on paper: a frame of every clip, or one every so many seconds. */
export function ContactSheet({ piece }: { piece: Piece }) {
  const engine = useEditor((s) => s.engine);
  const [by, setBy] = useState<SheetWish['by']>('clip');
  const [seconds, setSeconds] = useState(2);
  const [share, setShare] = useState<number | null>(null);
  const wish: SheetWish = by === 'clip' ? { by } : { by, seconds };
  const count = sheetFrames(piece, wish).length;
  const save = async (kind: 'png' | 'pdf') => {
    if (!engine) return say('This browser cannot draw it.');
    setShare(0);
    try {
      await saveContactSheet(engine, piece, wish, kind, setShare);
    } catch {
      say('The contact sheet could not be drawn. Try again.');
    } finally {
      setShare(null);
    }
  };
  return (
    <View className="gap-2.5" testID="contact-sheet">
      <Text kind="heading" accessibilityRole="header">
        Contact sheet
      </Text>
      <Choice
        label="Frames of the contact sheet"
        value={by}
        options={[
          { id: 'clip', name: 'One of each clip' },
          { id: 'seconds', name: 'Every few seconds' },
        ]}
        onChange={setBy}
      />
      {by === 'seconds' ? (
        <NumberField
          label="A frame every"
          value={seconds}
          least={0.1}
          most={600}
          step={0.5}
          digits={1}
          unit=" s"
          onChange={(to) => {
            setSeconds(to);
            return true;
          }}
          testID="sheet-seconds"
        />
      ) : null}
      <Text kind="note">
        {count === 1 ? 'One frame' : `${count} frames`}
        {count === SHEET_MOST ? ', the most there can be' : ''}, each with its time.
      </Text>
      {share === null ? (
        <View className="flex-row gap-2">
          <Button label="Save as PNG" disabled={count === 0} onPress={() => void save('png')} testID="sheet-png" />
          <Button label="Save as PDF" disabled={count === 0} onPress={() => void save('pdf')} testID="sheet-pdf" />
        </View>
      ) : (
        <Progress value={share} label="Contact sheet" />
      )}
    </View>
  );
}
