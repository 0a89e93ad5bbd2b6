import { draftOf } from '@flimzy/core/edits';
import { PLAIN_TONE } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import { EFFECTS_MOST, type Effect, type EffectKind, type Tone } from '@flimzy/core/properties';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { Dock } from '../look/Dock';
import { SliderField } from '../look/SliderField';
import { Text } from '../look/Text';
import { say } from '../look/Toast';
import { actionOf } from '../open/actions';
import { useEditor, useSettledPiece } from '../open/editor';
import { compare, saveCube, scoped, setEffects, tidied, tryEffects, useHasLook, type Scope, type Scoped } from '../open/looks';
import { closePanel, usePanel } from '../open/panels';
import { EffectList } from './EffectList';
import { LookTiles } from './LookTiles';
import { bringInLooks, forgetLook, lookEffect, useOwnLooks } from './ownLooks';

/** How the selected pictures, their track or the whole piece look. */
export function LooksPanel() {
  const open = usePanel((s) => s.panel?.name === 'looks');
  const piece = useSettledPiece();
  return open && piece ? <Open piece={piece} /> : null;
}

/** The one effect of a list that is chosen among the tiles: a look of ours, or one brought in. */
const isLook = (effect: Effect): effect is Extract<Effect, { kind: 'look' | 'table' }> => effect.kind === 'look' || effect.kind === 'table';

const named = (n: number) => (n === 1 ? 'This clip' : `${n} clips`);

function Open({ piece }: { piece: Piece }) {
  const selected = useEditor((s) => s.selected);
  const [wanted, setWanted] = useState<Scope>('clips');
  const some = scoped(piece, selected, 'clips').clips.length;
  const scope = some === 0 && wanted === 'clips' ? 'track' : wanted;
  const now = scoped(piece, selected, scope);
  const scopes = [
    ...(some > 0 ? [{ id: 'clips' as const, name: named(some) }] : []),
    { id: 'track' as const, name: 'Its track' },
    { id: 'piece' as const, name: 'Whole piece' },
  ];
  return (
    <Dock title="Look" onClose={closePanel} testID="looks-panel">
      <View className="gap-4">
        <Choice label="What the look is on" value={scope} options={scopes} onChange={setWanted} />
        <Effects key={`${scope} ${now.clips[0]} ${now.track}`} piece={piece} now={now} />
      </View>
    </Dock>
  );
}

type Figure = Exclude<keyof Tone, 'exposure'>;
const TONES: readonly { name: Figure; label: string; least: number }[] = [
  { name: 'contrast', label: 'Contrast', least: -1 },
  { name: 'saturation', label: 'Colour', least: -1 },
  { name: 'warmth', label: 'Warmth', least: -1 },
  { name: 'tint', label: 'Tint', least: -1 },
  { name: 'shadows', label: 'Shadows', least: -1 },
  { name: 'highlights', label: 'Highlights', least: -1 },
  { name: 'fade', label: 'Fade', least: 0 },
];
type Amount = Extract<Effect, { amount: number }>['kind'];
const AMOUNTS: readonly { kind: Amount; label: string; least: number }[] = [
  { kind: 'vignette', label: 'Vignette', least: -1 },
  { kind: 'grain', label: 'Grain', least: 0 },
  { kind: 'sharpen', label: 'Sharpen', least: 0 },
  { kind: 'blur', label: 'Blur', least: 0 },
];

function Effects({ piece, now }: { piece: Piece; now: Scoped }) {
  const hasCopy = useHasLook();
  const own = useOwnLooks();
  const list = now.effects === 'none' ? [] : now.effects;
  const of = <K extends EffectKind>(kind: K) => list.find((effect): effect is Extract<Effect, { kind: K }> => effect.kind === kind);
  /** The list with an effect of a kind, changed where there is one; a look comes first, what is new last. */
  const withEffect = (effect: Effect): Effect[] => {
    const at = list.findIndex(({ kind }) => kind === effect.kind);
    if (at >= 0) return list.map((one, n) => (n === at ? effect : one));
    return isLook(effect) ? [effect, ...list] : [...list, effect];
  };
  const keep = (next: readonly Effect[]): boolean => {
    if (next.length <= EFFECTS_MOST) return setEffects(now, tidied(next));
    say(`At most ${EFFECTS_MOST} effects go on one thing.`);
    return false;
  };
  const look = (next: readonly Effect[]) => tryEffects(now, tidied(next));
  const chosen = list.find(isLook);
  const tone = of('tone') ?? { kind: 'tone' as const, ...PLAIN_TONE };
  const toned = (change: Partial<Tone>) => withEffect({ ...tone, ...change });
  const choose = (wanted: Effect | null) => {
    const others = list.filter((effect) => !isLook(effect));
    const at = Math.max(0, list.findIndex(isLook));
    const put = wanted && isLook(wanted) ? [{ ...wanted, strength: chosen?.strength ?? 0.8 }] : [];
    return keep([...others.slice(0, at), ...put, ...others.slice(at)]);
  };
  const without = bare(piece, now);
  return (
    <View className="gap-4">
      <LookTiles without={without} chosen={chosen && !chosen.off ? chosen : null} onChoose={choose} />
      {chosen ? (
        <View className="rounded-2xl bg-raised px-4">
          <SliderField
            label="Strength"
            value={chosen.strength}
            least={0}
            most={1}
            step={0.01}
            shown={100}
            unit="%"
            onLook={(strength) => look(withEffect({ ...chosen, strength }))}
            onKeep={(strength) => keep(withEffect({ ...chosen, strength }))}
            testID="look-strength"
          />
        </View>
      ) : null}
      <Compare now={now} disabled={list.length === 0} />
      <View className="rounded-2xl bg-raised px-4">
        <SliderField
          label="Exposure"
          value={tone.exposure}
          least={-3}
          most={3}
          step={0.05}
          unit=""
          digits={2}
          onLook={(exposure) => look(toned({ exposure }))}
          onKeep={(exposure) => keep(toned({ exposure }))}
          testID="tone-exposure"
        />
        {TONES.map(({ name, label, least }) => (
          <SliderField
            key={name}
            label={label}
            value={tone[name]}
            least={least}
            most={1}
            step={0.01}
            shown={100}
            unit="%"
            onLook={(value) => look(toned({ [name]: value }))}
            onKeep={(value) => keep(toned({ [name]: value }))}
            testID={`tone-${name}`}
          />
        ))}
      </View>
      <View className="rounded-2xl bg-raised px-4">
        {AMOUNTS.map(({ kind, label, least }) => {
          const effect = of(kind) ?? { kind, amount: 0 };
          return (
            <SliderField
              key={kind}
              label={label}
              value={effect.amount}
              least={least}
              most={1}
              step={0.01}
              shown={100}
              unit="%"
              onLook={(amount) => look(withEffect({ ...effect, amount }))}
              onKeep={(amount) => keep(withEffect({ ...effect, amount }))}
              testID={`effect-${kind}`}
            />
          );
        })}
      </View>
      {list.length > 0 ? <EffectList effects={list} onChange={keep} /> : null}
      <View className="flex-row flex-wrap gap-2">
        {now.scope === 'clips' ? <Button label="Copy look" onPress={actionOf('copy-look').run} testID="copy-look" /> : null}
        {now.scope === 'clips' && hasCopy ? <Button label="Paste look" onPress={actionOf('paste-look').run} testID="paste-look" /> : null}
        <Button label="Bring in a .cube" onPress={() => bringInLooks((look) => choose(lookEffect(look)))} testID="bring-cube" />
        {chosen?.kind === 'table' && own.some(({ table }) => table === chosen.table) ? (
          <Button label={`Offer “${chosen.name}” no longer`} kind="quiet" onPress={() => forgetLook(chosen.table)} testID="forget-look" />
        ) : null}
        <Button label="Save as .cube" onPress={() => saveCube(now.effects)} disabled={list.length === 0} testID="save-cube" />
        <Button label="No look" onPress={() => setEffects(now, 'none')} disabled={list.length === 0} testID="no-look" />
      </View>
    </View>
  );
}

/** The piece without the look that is changed. */
function bare(piece: Piece, { scope, clips, track }: Scoped): Piece {
  if (scope === 'piece') return { ...piece, effects: 'none' };
  if (scope === 'track')
    return { ...piece, tracks: piece.tracks.map((one) => (one.id === track ? { ...one, effects: 'none' as const } : one)) };
  return draftOf(piece, 'set', { clips, values: { effects: 'none' } });
}

/** Shows the picture without the look for as long as it is held. */
function Compare({ now, disabled }: { now: Scoped; disabled: boolean }) {
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel="Hold to see it without the look"
      disabled={disabled}
      onPressIn={() => compare(now, true)}
      onPressOut={() => compare(now, false)}
      testID="compare"
      className={`min-h-[44px] items-center justify-center rounded-full bg-raised px-4 active:bg-hairline ${disabled ? 'opacity-40' : ''}`}
    >
      <Text kind="label" className="font-strong text-[15px] text-ink">
        Hold to see it without
      </Text>
    </Pressable>
  );
}
