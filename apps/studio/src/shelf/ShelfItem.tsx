import { useDraggable } from '@dnd-kit/core';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { MediaItem } from '@flimzy/contract';
import { formatTimecode } from '@flimzy/core/time';
import Check from 'lucide-react-native/icons/check';
import Eye from 'lucide-react-native/icons/eye';
import Grip from 'lucide-react-native/icons/grip-vertical';
import type { DOMAttributes } from 'react';
import { Pressable, View } from 'react-native';
import { openPanel } from '../open/panels';
import { IconButton } from '../look/Button';
import { Progress } from '../look/Progress';
import { Text } from '../look/Text';
import { allFigures, chosenKey, figures, rateOf, type Shelved } from './items';
import type { Grabbed } from './ShelfDrag';
import { Thumb } from '../material/Thumb';
import { Trouble } from './Trouble';

const STEPS = {
  waiting: 'Waiting',
  reading: 'Reading the file',
  proxy: 'Preparing',
  filmstrip: 'Almost ready',
  listening: 'Listening',
} as const;

interface ItemProps extends Shelved {
  chosen: readonly string[];
  onToggle: (key: string) => void;
}

/** Holding an item picks it up; it must not be chosen as well when it is let go. */
const HELD = () => undefined;

/** What lets an item be picked up, to be set down on the timeline: held by a finger, or dragged by the mouse. */
function useGrab(item: MediaItem) {
  const { setNodeRef, listeners } = useDraggable({
    id: `place ${item.id}`,
    data: { kind: 'place', item } satisfies Grabbed,
    disabled: !item.usable,
  });
  const { onMouseDown, onTouchStart } = (listeners ?? {}) as Pick<DOMAttributes<HTMLDivElement>, 'onMouseDown' | 'onTouchStart'>;
  return {
    ref: setNodeRef,
    onMouseDown,
    onTouchStart,
    style: { touchAction: 'manipulation', userSelect: 'none', WebkitTouchCallout: 'none' } as const,
  };
}

/** The place of something among what is chosen. */
function Order({ n }: { n: number }) {
  if (n < 0) return null;
  return (
    <View className="h-6 min-w-[24px] flex-row items-center justify-center rounded-full bg-paper px-1.5">
      <Check size={12} color="var(--c-onpaper)" strokeWidth={3} />
      <Text kind="small" className="text-onpaper">
        {n + 1}
      </Text>
    </View>
  );
}

const spoken = ({ item }: Shelved) =>
  `${item.name}${item.usable ? '' : item.status === 'failed' ? ', cannot be used' : ', being prepared'}`;

/** An item as a frame. */
export function ShelfTile({ item, entry, width, chosen, onToggle }: ItemProps & { width: number }) {
  const grab = useGrab(item);
  const ready = item.usable;
  const order = chosen.indexOf(chosenKey(item.id));
  return (
    <View style={{ width }} testID={`item-${item.id}`}>
      <div {...grab}>
        <Pressable
          accessibilityRole="checkbox"
          accessibilityLabel={spoken({ item, entry })}
          accessibilityState={{ checked: order >= 0, disabled: !ready }}
          aria-checked={order >= 0}
          disabled={item.status === 'preparing' && !ready}
          onPress={() => (ready ? onToggle(chosenKey(item.id)) : undefined)}
          onLongPress={HELD}
          delayLongPress={290}
          className="overflow-hidden rounded-xl bg-raised"
          style={order >= 0 ? { boxShadow: '0 0 0 2.5px var(--c-paper)' } : undefined}
        >
          <Thumb item={item} width={width} height={Math.round(width * 0.72)} />
          <View className="absolute right-1.5 top-1.5">
            <Order n={order} />
          </View>
        </Pressable>
      </div>
      <View className="flex-row items-center">
        <View className="min-w-0 flex-1 gap-0.5 pt-1">
          <Text kind="label" numberOfLines={1}>
            {item.name}
          </Text>
          <Below item={item} entry={entry} line={figures(item)} />
        </View>
        {ready ? (
          <IconButton label={`Look at ${item.name}`} icon={Eye} size={16} onPress={() => openPanel({ name: 'look', media: item.id })} />
        ) : null}
      </View>
      <Ranges item={item} entry={entry} chosen={chosen} onToggle={onToggle} />
    </View>
  );
}

/** An item as a line with all its figures. */
export function ShelfLine({ item, entry, sortable, chosen, onToggle }: ItemProps & { sortable: boolean }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({
    id: item.id,
    disabled: !sortable,
    data: { kind: 'order' } satisfies Grabbed,
  });
  const grab = useGrab(item);
  const ready = item.usable;
  const order = chosen.indexOf(chosenKey(item.id));
  return (
    <div ref={setNodeRef} data-testid={`item-${item.id}`} style={{ transform: CSS.Translate.toString(transform), transition }}>
      <View className={`flex-row items-center gap-2 rounded-xl ${order >= 0 ? 'bg-hairline' : 'bg-raised'}`}>
        {sortable ? (
          <button
            ref={setActivatorNodeRef}
            {...attributes}
            {...listeners}
            aria-label={`Move ${item.name}`}
            data-testid={`grip-${item.id}`}
            style={{ width: 30, height: 56, border: 0, background: 'transparent', touchAction: 'none', cursor: 'grab', padding: 0 }}
          >
            <Grip size={18} color="var(--c-muted)" />
          </button>
        ) : null}
        <div {...grab} style={{ ...grab.style, display: 'flex', flex: 1, minWidth: 0 }}>
          <Pressable
            accessibilityRole="checkbox"
            accessibilityLabel={spoken({ item, entry })}
            aria-checked={order >= 0}
            disabled={!ready}
            onLongPress={HELD}
            delayLongPress={290}
            onPress={() => onToggle(chosenKey(item.id))}
            className="min-h-[56px] min-w-0 flex-1 flex-row items-center gap-2 py-1 pl-1"
          >
            <View className="overflow-hidden rounded-lg">
              <Thumb item={item} width={60} height={46} />
            </View>
            <View className="min-w-0 flex-1">
              <Text kind="label" numberOfLines={1}>
                {item.name}
              </Text>
              <Below item={item} entry={entry} line={allFigures(item)} />
            </View>
            <Order n={order} />
          </Pressable>
        </div>
        {ready ? (
          <IconButton label={`Look at ${item.name}`} icon={Eye} size={17} onPress={() => openPanel({ name: 'look', media: item.id })} />
        ) : null}
      </View>
      <Ranges item={item} entry={entry} chosen={chosen} onToggle={onToggle} />
    </div>
  );
}

/** Figures, or what is being done, or what is wrong. */
function Below({ item, line }: Shelved & { line: string }) {
  if (item.work)
    return (
      <View className="gap-1">
        {line ? (
          <Text kind="small" className="font-mono" numberOfLines={1}>
            {line}
          </Text>
        ) : null}
        <Progress value={item.work.progress} label={`Preparing ${item.name}`} />
        <Text kind="small">{item.usable && item.status === 'preparing' ? 'Can be used already' : STEPS[item.work.step]}</Text>
      </View>
    );
  if (item.error) return <Trouble item={item} />;
  return (
    <>
      <Text kind="small" className="font-mono" numberOfLines={2}>
        {line}
      </Text>
      {item.note ? (
        <Text kind="small" testID="note">
          {item.note}
        </Text>
      ) : null}
    </>
  );
}

/** The marked stretches of an item: each can be chosen by itself. */
function Ranges({ item, entry, chosen, onToggle }: ItemProps) {
  const { facts } = item;
  if (!facts || !entry || entry.ranges.length === 0) return null;
  return (
    <View className="flex-row flex-wrap gap-1 pb-1 pt-1">
      {entry.ranges.map((range) => {
        const key = chosenKey(item.id, range);
        const n = chosen.indexOf(key);
        const words = `${formatTimecode(range.from, rateOf(facts))}–${formatTimecode(range.to, rateOf(facts))}`;
        return (
          <Pressable
            key={range.id}
            accessibilityRole="checkbox"
            accessibilityLabel={`${item.name} ${words}`}
            aria-checked={n >= 0}
            testID="range"
            onPress={() => onToggle(key)}
            className={`min-h-[32px] flex-row items-center gap-1 rounded-lg px-2 ${n >= 0 ? 'bg-paper' : 'bg-panel border border-hairline'}`}
          >
            <Text kind="small" className={`font-mono ${n >= 0 ? 'text-onpaper' : ''}`}>
              {n >= 0 ? `${n + 1}  ` : ''}
              {words}
            </Text>
          </Pressable>
        );
      })}
    </View>
  );
}
