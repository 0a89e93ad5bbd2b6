import {
  closestCenter,
  DndContext,
  DragOverlay,
  KeyboardSensor,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragMoveEvent,
  type DragStartEvent,
} from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import type { MediaItem } from '@flimzy/contract';
import { shelfOf } from '@flimzy/core/piece';
import { useRef, type ReactNode } from 'react';
import { createPortal } from 'react-dom';
import { create } from 'zustand';
import { useMedia } from '../api/queries';
import { currentPiece, edit, stopTrying } from '../open/editor';
import { closePanel, openPanel } from '../open/panels';
import { say } from '../look/Toast';
import { dropAt } from '../timeline/drop';
import { useShowing } from '../timeline/showing';
import type { Trial } from '../timeline/trial';
import { thingsInOrder, useManner } from './manner';
import { Thumb } from '../material/Thumb';

/** What is picked up: an item to put in order by its grip, or items to be set down on the timeline. */
export type Grabbed = { kind: 'order' } | { kind: 'place'; item: MediaItem };

/** The item that is being dragged to the timeline, and whether it is over it. */
export const useShelfDrag = create<{ item: MediaItem | null; over: boolean }>(() => ({ item: null, over: false }));

interface ShelfDragProps {
  chosen: readonly string[];
  onPlaced: () => void;
  children: ReactNode;
}

/**
 * Dragging from the shelf: along it to put it in order, onto the timeline to set down (with all that is chosen, when the item is
 * among it). Until it is let go, the timeline shows what would move.
 */
export function ShelfDrag({ chosen, onPlaced, children }: ShelfDragProps) {
  const { data: items } = useMedia();
  const item = useShelfDrag((s) => s.item);
  const over = useShelfDrag((s) => s.over);
  const trial = useRef<Trial | null>(null);
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 300, tolerance: 8 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const start = ({ active }: DragStartEvent) => {
    const grabbed = active.data.current as Grabbed | undefined;
    if (grabbed?.kind !== 'place') return;
    navigator.vibrate?.(14);
    useShelfDrag.setState({ item: grabbed.item, over: false });
  };
  const move = (event: DragMoveEvent) => {
    const grabbed = event.active.data.current as Grabbed | undefined;
    const piece = currentPiece();
    const at = pointOf(event);
    if (grabbed?.kind !== 'place' || !piece || !at) return;
    const keys = chosen.includes(grabbed.item.id) ? chosen : [grabbed.item.id];
    const tried = trial.current !== null;
    trial.current = dropAt(piece, thingsInOrder(keys, items ?? [], piece), useManner.getState().parts, at.x, at.y);
    useShelfDrag.setState({ over: trial.current !== null });
    if (tried && !trial.current) stopTrying();
    useShowing.setState({ show: trial.current?.show ?? null });
  };
  const end = (event: DragEndEvent | null) => {
    const grabbed = event?.active.data.current as Grabbed | undefined;
    const { current: last } = trial;
    trial.current = null;
    useShelfDrag.setState({ item: null, over: false });
    useShowing.setState({ show: null });
    if (!event || grabbed?.kind === 'order') return event ? putInOrder(event) : stopTrying();
    const far = Math.hypot(event.delta.x, event.delta.y) > 8;
    if (last?.commit) {
      if (!last.commit()) return;
      say(`${last.show.title}. ${last.show.note[0]?.toUpperCase()}${last.show.note.slice(1)}.`);
      closePanel();
      return onPlaced();
    }
    stopTrying();
    if (last) say(last.show.title);
    else if (!far && grabbed) openPanel({ name: 'look', media: grabbed.item.id });
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      autoScroll={!item}
      onDragStart={start}
      onDragMove={move}
      onDragEnd={end}
      onDragCancel={() => end(null)}
    >
      {children}
      {createPortal(
        <DragOverlay zIndex={20_000} dropAnimation={null}>
          {item && !over ? (
            <div
              data-testid="carried"
              style={{ width: 84, height: 62, borderRadius: 10, overflow: 'hidden', boxShadow: '0 8px 24px rgba(0,0,0,0.5)' }}
            >
              <Thumb item={item} width={84} height={62} />
            </div>
          ) : null}
        </DragOverlay>,
        document.body,
      )}
    </DndContext>
  );
}

function putInOrder({ active, over }: DragEndEvent): void {
  const piece = currentPiece();
  if (!piece || !over || active.id === over.id) return;
  const to = shelfOf(piece).findIndex((entry) => entry.media.id === over.id);
  if (to >= 0) edit('orderShelf', { media: String(active.id), to });
}

/** Where the finger or the mouse is now, on the page. */
function pointOf({ activatorEvent, delta }: DragMoveEvent): { x: number; y: number } | null {
  const begun =
    activatorEvent instanceof MouseEvent
      ? activatorEvent
      : 'touches' in activatorEvent
        ? (activatorEvent as TouchEvent).touches[0]
        : undefined;
  return begun ? { x: begun.clientX + delta.x, y: begun.clientY + delta.y } : null;
}
