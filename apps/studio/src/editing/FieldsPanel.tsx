import { materialAt } from '@flimzy/core/piece';
import { Fields, propertyOf, valueOf } from '@flimzy/core/properties';
import { Pressable, View } from 'react-native';
import { addressOf } from '../api/address';
import { Dock } from '../look/Dock';
import { Text } from '../look/Text';
import { edit, useEditor, usePiece } from '../open/editor';
import { closePanel, usePanel } from '../open/panels';
import { interlaced, situation } from '../open/situation';
import { useStandstill } from '../open/standstill';

/** How interlaced clips are seen: both ways side by side, pixel for pixel, at the playhead. */
export function FieldsPanel() {
  const open = usePanel((s) => s.panel?.name === 'fields');
  const piece = usePiece();
  const playhead = useStandstill();
  useEditor((s) => s.selected); // what it is about may change
  const now = situation();
  if (!open || !piece || !now) return null;
  const clips = interlaced(now);
  const [first] = clips;
  if (!first)
    return (
      <Dock title="Fields" onClose={closePanel} testID="fields-panel">
        <Text kind="note">Select a clip of interlaced material: one whose frames were recorded as two fields.</Text>
      </Dock>
    );
  const media = piece.media[first.media];
  const at = Math.max(0, Math.min(materialAt(first, Math.max(first.start, playhead)), (media?.length ?? 1) - 1));
  const value = valueOf(first, 'fields');
  const differ = clips.some((clip) => valueOf(clip, 'fields') !== value);
  return (
    <Dock title="Fields" onClose={closePanel} testID="fields-panel">
      <View accessibilityRole="radiogroup" accessibilityLabel="Fields" className="flex-row gap-2 pb-2">
        {Fields.options.map((fields) => {
          const chosen = !differ && fields === value;
          const name = propertyOf('fields').say(fields);
          return (
            <Pressable
              key={fields}
              accessibilityRole="radio"
              accessibilityLabel={name}
              accessibilityState={{ checked: chosen }}
              aria-checked={chosen}
              onPress={() => edit('set', { clips: clips.map(({ id }) => id), values: { fields } })}
              testID={`fields-${fields}`}
              className={`min-w-0 flex-1 gap-1 rounded-xl p-1.5 ${chosen ? 'bg-paper' : 'bg-raised active:bg-hairline'}`}
            >
              <img
                alt=""
                src={addressOf('mediaAt', { id: first.media }, { at: Math.round(at), fields })}
                draggable={false}
                style={{ width: '100%', height: 150, objectFit: 'none', borderRadius: 8, background: '#000', display: 'block' }}
              />
              <Text kind="label" className={chosen ? 'text-onpaper' : ''}>
                {name}
              </Text>
            </Pressable>
          );
        })}
      </View>
      <Text kind="note">
        {clips.length > 1 ? `${clips.length} clips. ` : ''}The middle of the frame at the playhead, as large as it is. What moves has combs
        at its edges while the fields stay as they were recorded; made whole, it has none, and is a little softer.
      </Text>
    </Dock>
  );
}
