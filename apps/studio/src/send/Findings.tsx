import type { Finding, Mend } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import Check from 'lucide-react-native/icons/check';
import CircleX from 'lucide-react-native/icons/circle-x';
import TriangleAlert from 'lucide-react-native/icons/triangle-alert';
import { useState } from 'react';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Text } from '../look/Text';
import { say } from '../look/Toast';
import { edit, moveTo, selectAll, together, undo, useEditor } from '../open/editor';
import { openPanel } from '../open/panels';
import { standOf } from '../open/state';

const takenBack = { label: 'Undo', run: undo };

/** Measures the piece and brings it to a loudness, unless it was changed meanwhile. */
async function bringTo(piece: Piece, target: number): Promise<void> {
  const { engine } = useEditor.getState();
  const stand = standOf(useEditor.getState());
  if (!engine) return say('The piece cannot be measured here.');
  try {
    const { level } = await engine.measure(piece, target, () => undefined);
    if (standOf(useEditor.getState()) === stand && edit('setSound', { level })) say('The loudness is set.', takenBack);
  } catch (error) {
    say((error as Error).message);
  }
}

/** What would go wrong, each with why it matters and what can be done about it. */
export function Findings({
  findings,
  piece,
  onLeave,
}: {
  findings: readonly (Finding & { check: string })[];
  piece: Piece;
  onLeave: () => void;
}) {
  if (findings.length === 0)
    return (
      <View className="min-h-[44px] flex-row items-center gap-2" testID="nothing-wrong">
        <Check size={18} color="var(--c-ink)" strokeWidth={2.2} />
        <Text kind="note">Nothing would go wrong here.</Text>
      </View>
    );
  return (
    <View className="gap-3">
      {findings.map((finding) => (
        <FindingRow key={`${finding.check} ${finding.at} ${finding.says}`} finding={finding} piece={piece} onLeave={onLeave} />
      ))}
    </View>
  );
}

function FindingRow({ finding, piece, onLeave }: { finding: Finding & { check: string }; piece: Piece; onLeave: () => void }) {
  const [busy, setBusy] = useState(false);
  const { check, says, why, weight, at, mends } = finding;
  const refused = weight === 'refused';
  const Glyph = refused ? CircleX : TriangleAlert;
  const mend = (one: Mend) => {
    if ('edits' in one) {
      if (together(one.edits.title, one.edits.steps)) say(`${one.edits.title}.`, takenBack);
    } else if ('open' in one) {
      if (one.select) selectAll(one.select);
      onLeave();
      openPanel({ name: one.open });
    } else {
      setBusy(true);
      void bringTo(piece, one.bringTo).finally(() => setBusy(false));
    }
  };
  const show = () => {
    onLeave();
    if (at !== null) moveTo(at);
  };
  return (
    <View className="flex-row gap-2.5" testID={`finding-${check}`}>
      <View className="pt-0.5">
        <Glyph size={18} color={refused ? 'var(--c-warn)' : 'var(--c-ink)'} strokeWidth={2} />
      </View>
      <View className="min-w-0 flex-1 gap-1">
        <Text kind="label" className="leading-[18px]">
          {refused ? 'Refused: ' : ''}
          {says}
        </Text>
        <Text kind="note">{why}</Text>
        <View className="flex-row flex-wrap gap-2 pt-1">
          {mends.map((one) => (
            <Button
              key={one.label}
              label={busy ? 'Measuring …' : one.label}
              disabled={busy}
              onPress={() => mend(one)}
              testID={`mend-${check}`}
            />
          ))}
          {at !== null ? <Button label="Show" kind="quiet" onPress={show} testID={`show-${check}`} /> : null}
        </View>
      </View>
    </View>
  );
}
