import SlidersHorizontal from 'lucide-react-native/icons/sliders-horizontal';
import { useState } from 'react';
import { View } from 'react-native';
import { useMedia } from '../api/queries';
import { placeAll, type Place } from '../open/actions/placing';
import { useEditor, useWhole } from '../open/editor';
import { Button, IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { Text } from '../look/Text';
import { thingsInOrder, useManner } from './manner';

const HOWS = [
  { id: 'insert', name: 'Make room' },
  { id: 'over', name: 'Cover' },
] as const;
const ORDERS = [
  { id: 'chosen', name: 'As chosen' },
  { id: 'shelf', name: 'As on the shelf' },
] as const;
const PARTS = [
  { id: 'both', name: 'Picture and sound' },
  { id: 'picture', name: 'Picture only' },
  { id: 'sound', name: 'Sound only' },
] as const;

/** Adds what is chosen on the shelf: at the end, at the playhead, or on a track of its own. */
export function AddBar({ chosen, onDone }: { chosen: readonly string[]; onDone: () => void }) {
  const { data: items } = useMedia();
  const piece = useWhole();
  const [open, setOpen] = useState(false);
  const { how, parts, order } = useManner();
  const none = chosen.length === 0;
  const add = (place: Place) => {
    if (placeAll(thingsInOrder(chosen, items ?? [], piece), place, { how, parts })) onDone();
  };
  const playhead = () => useEditor.getState().playhead;
  const says = none
    ? 'Touch what you want, in the order you want it.'
    : how === 'insert'
      ? 'At the playhead, what follows moves later to make room.'
      : 'At the playhead, what is there is covered; nothing moves.';
  return (
    <View className="gap-2">
      <View className="flex-row items-center justify-between">
        <Text kind="small" className="shrink">
          {says}
        </Text>
        <IconButton label="How it is added" icon={SlidersHorizontal} active={open} onPress={() => setOpen(!open)} testID="add-how" />
      </View>
      {open ? (
        <View className="gap-2 pb-1">
          <Choice label="At the playhead" value={how} options={HOWS} onChange={(value) => useManner.setState({ how: value })} />
          <Choice label="Order of several" value={order} options={ORDERS} onChange={(value) => useManner.setState({ order: value })} />
          <Choice label="Parts" value={parts} options={PARTS} onChange={(value) => useManner.setState({ parts: value })} />
          <Button
            label="On a new track, at the playhead"
            disabled={none}
            onPress={() => add({ at: playhead(), track: null })}
            testID="add-new-track"
          />
        </View>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        <View className="flex-1">
          <Button label="Add at end" kind="main" disabled={none} onPress={() => add({ at: null })} testID="add-end" />
        </View>
        <View className="flex-1">
          <Button label="At playhead" disabled={none} onPress={() => add({ at: playhead() })} testID="add-playhead" />
        </View>
      </View>
    </View>
  );
}
