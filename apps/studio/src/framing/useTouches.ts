import { isOn, partHandled, type Handled } from '@flimzy/core/frame';
import { findClip, type Piece } from '@flimzy/core/piece';
import { partsOf, valueOf } from '@flimzy/core/properties';
import { useEffect, useRef } from 'react';
import { currentPiece, pause, select, stopTrying, useEditor } from '../open/editor';
import { picturesOf, setFigures, tryFigures, type Framed } from '../open/framing';
import { openPanel, usePanel } from '../open/panels';
import { chosenPart, choosePart, setTitle, tryTitle, withPart } from '../open/titles';
import { framedAt, handled, partAt, seenAt, take, type Grip, type Hand } from './touch';

interface Point {
  x: number;
  y: number;
}

/** The pictures that are set by what is done to one of them. */
const chosen = (piece: Piece) => picturesOf(piece, useEditor.getState().selected).map(({ clip }) => clip);

/** Hears fingers and mouse on the picture. */
export function useTouches(
  node: HTMLDivElement | null,
  per: number,
  open: boolean,
  setCaught: (caught: { x: number | null; y: number | null }) => void,
): void {
  const now = useRef({ per, open });
  useEffect(() => {
    now.current = { per, open };
  }, [per, open]);
  useEffect(() => {
    if (!node) return;
    const down = new Map<number, Point>();
    let hand: Hand | null = null;
    let free = false;
    let moved = false;
    let due = 0;
    let last: ReturnType<typeof handled> | null = null;
    let felt = '';
    const stop = new AbortController();
    const pointOf = (event: PointerEvent | MouseEvent): Point => {
      const box = node.getBoundingClientRect();
      return { x: (event.clientX - box.left) * now.current.per, y: (event.clientY - box.top) * now.current.per };
    };
    const grasp = (grip: Grip) => {
      const piece = currentPiece();
      const { selected, playhead } = useEditor.getState();
      const framed = piece && framedAt(piece, selected, playhead);
      hand =
        piece && framed ? take(piece, framed, playhead, grip, [...down.values()], now.current.per, partHeld(piece, framed, grip)) : null;
    };
    /** While its words stand open, a title's parts are held one by one: the one touched, or the one chosen by its corners. */
    const partHeld = (piece: Piece, framed: Framed, grip: Grip): number | null => {
      const overlay = valueOf(framed.clip, 'overlay');
      if (usePanel.getState().panel?.name !== 'title' || overlay === 'none') return null;
      const [first] = down.values();
      const on = first && grip === 'body' && down.size === 1 ? partAt(piece, framed, useEditor.getState().playhead, first) : null;
      if (on !== null) choosePart(on);
      return chosenPart(overlay);
    };
    /** Shows, or keeps, what the hand makes of what it holds. */
    const apply = (piece: Piece, held: Hand, made: Handled, keep: boolean) => {
      const { part, framed } = held;
      // As it is now: words that were being typed were kept when the finger came down.
      const overlay = valueOf(findClip(piece, framed.clip.id)?.clip ?? framed.clip, 'overlay');
      const one = part === null ? undefined : partsOf(valueOf(framed.clip, 'overlay'))[part];
      if (part !== null && one && overlay !== 'none') {
        const values = { overlay: withPart(overlay, part, partHandled(held.held, one, made)) };
        if (keep) setTitle(framed.clip, values);
        else tryTitle(framed.clip, values);
      } else if (keep) setFigures(chosen(piece), made.figures);
      else tryFigures(chosen(piece), made.figures);
    };
    const look = () => {
      due = 0;
      const piece = currentPiece();
      if (!hand || !piece) return;
      last = handled(hand, [...down.values()], free);
      const line = `${last.caught.x} ${last.caught.y}`;
      if (line !== felt && (last.caught.x !== null || last.caught.y !== null)) navigator.vibrate?.(6);
      if (line !== felt) setCaught(last.caught);
      felt = line;
      apply(piece, hand, last, false);
    };
    const end = (keep: boolean) => {
      if (due) cancelAnimationFrame(due);
      if (due && keep) look();
      due = 0;
      const [held, made, piece] = [hand, last, currentPiece()];
      hand = null;
      last = null;
      felt = '';
      setCaught({ x: null, y: null });
      delete node.dataset.dragging;
      if (moved && keep && held && made && piece) apply(piece, held, made, true);
      stopTrying();
    };
    const on = <K extends keyof HTMLElementEventMap>(type: K, listener: (event: HTMLElementEventMap[K]) => void) =>
      node.addEventListener(type, listener, { signal: stop.signal });
    on('pointerdown', (event) => {
      if (!now.current.open || event.button !== 0) return;
      pause();
      if (hand && moved && down.size === 1) end(true); // a second finger goes on from where the first one came to
      down.set(event.pointerId, pointOf(event));
      node.setPointerCapture(event.pointerId);
      free = event.altKey;
      moved = false;
      const grip = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-grip]')?.dataset.grip : undefined;
      grasp(down.size > 1 ? 'body' : ((grip as Grip | undefined) ?? 'body'));
    });
    on('pointermove', (event) => {
      const before = down.get(event.pointerId);
      if (!before || !hand) return;
      const point = pointOf(event);
      const [began] = hand.began;
      if (!moved && down.size === 1 && began && Math.hypot(point.x - began.x, point.y - began.y) < 4 * now.current.per) return;
      moved = true;
      node.dataset.dragging = 'yes';
      free = event.altKey;
      down.set(event.pointerId, point);
      due ||= requestAnimationFrame(look);
    });
    const lift = (event: PointerEvent, keep: boolean) => {
      if (!down.has(event.pointerId)) return;
      if (hand) end(keep);
      moved = false;
      down.delete(event.pointerId);
      if (down.size > 0) grasp('body');
    };
    on('pointerup', (event) => {
      const touched = down.size <= 1 && !moved;
      const at = pointOf(event);
      lift(event, true);
      if (touched && event.button === 0) touch(at);
    });
    on('pointercancel', (event) => lift(event, false));
    /** Chooses the uppermost picture under a finger, and lets it be framed. */
    const touch = (at: Point) => {
      const piece = currentPiece();
      if (!piece) return;
      const { playhead, selected } = useEditor.getState();
      const on = seenAt(piece, playhead).find(({ placed }) => isOn(placed, at));
      if (!on) return;
      if (!selected.includes(on.framed.clip.id)) select(on.framed.clip.id);
      openPanel({ name: on.framed.media.kind === 'overlay' ? 'title' : 'framing' });
    };
    const escape = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !hand || !moved) return;
      event.stopPropagation();
      moved = false;
      end(false);
    };
    window.addEventListener('keydown', escape, { capture: true, signal: stop.signal });
    return () => {
      stop.abort();
      if (due) cancelAnimationFrame(due);
    };
  }, [node, setCaught]);
}
