import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import ArrowDownUp from 'lucide-react-native/icons/arrow-down-up';
import Funnel from 'lucide-react-native/icons/list-filter';
import Grid from 'lucide-react-native/icons/grid-2x2';
import Import from 'lucide-react-native/icons/import';
import List from 'lucide-react-native/icons/rows-3';
import { useState } from 'react';
import { TextInput, View } from 'react-native';
import { useMedia } from '../api/queries';
import { sentFor, useUploads } from '../api/uploads';
import { OnItsWay } from '../look/OnItsWay';
import { useWhole } from '../open/editor';
import { Button, IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { Text } from '../look/Text';
import { chooseFiles } from './chooseFiles';
import { KINDS, shelved, SORTS, type ShelfView } from './items';
import { ShelfLine, ShelfTile } from './ShelfItem';

const WHERES = [
  { id: 'piece', name: 'This piece' },
  { id: 'everywhere', name: 'Everywhere' },
] as const;

interface ShelfProps {
  chosen: readonly string[];
  onChoose: (keys: string[]) => void;
  columns: number;
  width: number;
}

/** The media there is, and what is on its way. Touching items chooses them, in that order. */
export function Shelf({ chosen, onChoose, columns, width }: ShelfProps) {
  const { data: items, isLoading, error, refetch } = useMedia();
  const sending = sentFor(
    useUploads((s) => s.sending),
    'media',
  );
  const piece = useWhole();
  const [view, setView] = useState<ShelfView>({ where: 'everywhere', kind: 'all', sort: 'own', text: '', as: 'grid' });
  const [filters, setFilters] = useState(false);
  const change = (values: Partial<ShelfView>) => setView((now) => ({ ...now, ...values }));
  const shown = shelved(items ?? [], piece, view);
  const cell = Math.floor((width - (columns - 1) * 8) / columns);
  const toggle = (key: string) => onChoose(chosen.includes(key) ? chosen.filter((c) => c !== key) : [...chosen, key]);
  const sortable = view.where === 'piece' && view.sort === 'own' && view.as === 'list' && !view.text && view.kind === 'all';
  const next = SORTS[(SORTS.findIndex((s) => s.id === view.sort) + 1) % SORTS.length] ?? SORTS[0];
  return (
    <View testID="shelf" className="gap-3">
      <Button
        label="Bring in from this device"
        icon={Import}
        kind={items?.length === 0 ? 'main' : 'plain'}
        onPress={chooseFiles}
        testID="bring-in"
      />
      <View className="flex-row items-center gap-1">
        <TextInput
          accessibilityLabel="Search the shelf"
          testID="shelf-search"
          value={view.text}
          onChangeText={(text) => change({ text })}
          placeholder="Search"
          placeholderTextColor="var(--c-muted)"
          className="min-h-[44px] w-0 min-w-0 flex-1 rounded-xl border border-hairline bg-ground px-3 font-text text-[15px] text-ink"
        />
        <IconButton
          label="Filter by kind, or by this piece"
          icon={Funnel}
          active={filters || view.where === 'piece' || view.kind !== 'all'}
          onPress={() => setFilters(!filters)}
          testID="shelf-filter"
        />
        <IconButton
          label={`Sorted by ${SORTS.find((s) => s.id === view.sort)?.name}. Touch for ${next.name}`}
          icon={ArrowDownUp}
          onPress={() => change({ sort: next.id })}
          testID="shelf-sort"
        />
        <IconButton
          label={view.as === 'grid' ? 'Show as a list with figures' : 'Show as frames'}
          icon={view.as === 'grid' ? List : Grid}
          onPress={() => change({ as: view.as === 'grid' ? 'list' : 'grid' })}
          testID="shelf-as"
        />
      </View>
      {filters ? (
        <>
          <Choice label="Which shelf" value={view.where} options={WHERES} onChange={(where) => change({ where })} />
          <Choice label="Kind" value={view.kind} options={KINDS} onChange={(kind) => change({ kind })} />
        </>
      ) : null}
      {view.sort === 'own' ? null : <Text kind="small">Sorted by {SORTS.find((s) => s.id === view.sort)?.name.toLowerCase()}</Text>}
      {sending.map((one) => (
        <OnItsWay {...one} key={one.key} />
      ))}
      {isLoading ? <Text kind="note">Looking at the shelf …</Text> : null}
      {error ? (
        <View className="gap-2">
          <Text kind="note" className="text-warn">
            {error.message}
          </Text>
          <Button label="Try again" onPress={() => void refetch()} />
        </View>
      ) : null}
      {items?.length === 0 && sending.length === 0 ? (
        <Text kind="note" className="py-6 text-center">
          The shelf is empty. Bring in clips, photos and music; the originals are never changed.
        </Text>
      ) : null}
      {items && items.length > 0 && shown.length === 0 ? (
        <Text kind="note" className="py-6 text-center">
          {view.text
            ? 'Nothing has these words.'
            : view.where === 'piece'
              ? 'Nothing is on this piece’s shelf yet. Look under “Everywhere”.'
              : 'Nothing of this kind.'}
        </Text>
      ) : null}
      {view.as === 'grid' ? (
        <View className="flex-row flex-wrap gap-2">
          {shown.map((one) => (
            <ShelfTile key={one.item.id} {...one} width={cell} chosen={chosen} onToggle={toggle} />
          ))}
        </View>
      ) : (
        <Lines shown={shown} sortable={sortable} chosen={chosen} onToggle={toggle} />
      )}
    </View>
  );
}

/** The list; in this piece's own order its lines can be dragged by their grip. */
function Lines({
  shown,
  sortable,
  chosen,
  onToggle,
}: {
  shown: ReturnType<typeof shelved>;
  sortable: boolean;
  chosen: readonly string[];
  onToggle: (key: string) => void;
}) {
  return (
    <SortableContext items={shown.map((one) => one.item.id)} strategy={verticalListSortingStrategy} disabled={!sortable}>
      <View className="gap-1">
        {shown.map((one) => (
          <ShelfLine key={one.item.id} {...one} sortable={sortable} chosen={chosen} onToggle={onToggle} />
        ))}
      </View>
    </SortableContext>
  );
}
