import { cornersOf, gripsOf, isOn, placeOf, type Placed, type Side } from '@flimzy/core/frame';
import { clipEnd, type Clip, type Piece } from '@flimzy/core/piece';
import { keyMoments } from '@flimzy/core/properties';
import { useEffect, useRef, useState } from 'react';
import Svg, { G, Line, Polygon, Rect } from 'react-native-svg';
import { currentPiece, pause, select, stopTrying, useEditor, usePiece } from '../open/editor';
import { momentOf, picturesOf, setFigures, sizeOf, tryFigures } from '../open/framing';
import { openPanel, usePanel } from '../open/panels';
import { handled, seenAt, take, type Grip, type Hand } from './touch';

interface HandlesProps {
  /** Size of the picture on the screen, in pixels. */
  width: number;
  height: number;
}

/** How far within the frame a grip is kept whose corner lies outside of it, in pixels of the screen. */
const INSET = 9;

/** How far around the frame outlines are seen, in pixels of the screen. */
const AROUND = 6;

interface Point {
  x: number;
  y: number;
}

/** The picture of the preview to be touched: a touch chooses what it falls on, and what is chosen has grips while framing stands open. */
export function Handles({ width, height }: HandlesProps) {
  const open = usePanel((s) => s.panel?.name === 'framing');
  const piece = usePiece();
  const selected = useEditor((s) => s.selected);
  const guides = useEditor((s) => s.guides);
  const playhead = useEditor((s) => s.playhead);
  const [host, setHost] = useState<HTMLDivElement | null>(null);
  const [caught, setCaught] = useState<{ x: number | null; y: number | null }>({ x: null, y: null });
  const per = piece ? piece.format.width / Math.max(1, width) : 1;
  const framed =
    open && piece ? picturesOf(piece, selected).find(({ clip }) => clip.start <= playhead && playhead < clipEnd(clip)) : undefined;
  useTouches(host, per, open, setCaught);
  if (!piece || width <= 0) return null;
  const place = framed && placeOf(framed.clip, sizeOf(piece, framed.media), piece.format, momentOf(framed.clip, playhead));
  const grips = place && gripsOf(place, piece.format, INSET * per);
  const shown = ({ x, y }: Point) => ({ x: x / per, y: y / per });
  return (
    <div
      ref={setHost}
      data-testid="handles"
      style={{ position: 'absolute', inset: 0, touchAction: open ? 'none' : 'manipulation', cursor: framed ? 'move' : 'default' }}
    >
      <Svg
        width={width + 2 * AROUND}
        height={height + 2 * AROUND}
        viewBox={`${-AROUND} ${-AROUND} ${width + 2 * AROUND} ${height + 2 * AROUND}`}
        style={{ position: 'absolute', top: -AROUND, left: -AROUND }}
        pointerEvents="none"
      >
        {framed ? (
          <Ghosts clip={framed.clip} piece={piece} source={sizeOf(piece, framed.media)} now={momentOf(framed.clip, playhead)} per={per} />
        ) : null}
        {place ? <Outline placed={place} per={per} /> : null}
        {guides ? <Guides width={width} height={height} /> : null}
        {caught.x !== null ? (
          <Line x1={caught.x / per} x2={caught.x / per} y1={0} y2={height} stroke="var(--c-signal)" strokeWidth={1.5} />
        ) : null}
        {caught.y !== null ? (
          <Line y1={caught.y / per} y2={caught.y / per} x1={0} x2={width} stroke="var(--c-signal)" strokeWidth={1.5} />
        ) : null}
      </Svg>
      {grips?.corners.map((corner, n) => (
        <GripAt key={n} grip="corner" label="Corner: pull to make the picture larger or smaller" {...shown(corner)} />
      ))}
      {grips
        ? (Object.entries(grips.sides) as [Side, Point][]).map(([side, at]) => (
            <GripAt key={side} grip={side} label={`${side} side: pull to cut the picture there`} {...shown(at)} angle={place?.turn ?? 0} />
          ))
        : null}
    </div>
  );
}

/** How far from the edges words are safe on any screen, as a share of the frame. */
const SAFE = 0.1;

/** Thirds, the middle, and where words are safe. */
function Guides({ width, height }: HandlesProps) {
  const line = { stroke: '#fff', strokeOpacity: 0.55, strokeWidth: 1 };
  return (
    <>
      {[1 / 3, 2 / 3].map((share) => (
        <G key={share}>
          <Line x1={share * width} x2={share * width} y1={0} y2={height} {...line} />
          <Line y1={share * height} y2={share * height} x1={0} x2={width} {...line} />
        </G>
      ))}
      <Line x1={width / 2 - 10} x2={width / 2 + 10} y1={height / 2} y2={height / 2} {...line} strokeOpacity={0.9} />
      <Line x1={width / 2} x2={width / 2} y1={height / 2 - 10} y2={height / 2 + 10} {...line} strokeOpacity={0.9} />
      <Rect
        x={SAFE * width}
        y={SAFE * height}
        width={(1 - 2 * SAFE) * width}
        height={(1 - 2 * SAFE) * height}
        fill="none"
        {...line}
        strokeDasharray="6 4"
      />
    </>
  );
}

const corners = (placed: Placed, per: number) =>
  cornersOf(placed)
    .map(({ x, y }) => `${(x / per).toFixed(1)},${(y / per).toFixed(1)}`)
    .join(' ');

function Outline({ placed, per }: { placed: Placed; per: number }) {
  return (
    <>
      <Polygon points={corners(placed, per)} fill="none" stroke="rgba(0,0,0,0.6)" strokeWidth={4} />
      <Polygon points={corners(placed, per)} fill="none" stroke="#fff" strokeWidth={1.5} />
    </>
  );
}

/** Where the picture lies at the other keys, so that the start and the end of a movement are seen together. */
function Ghosts({
  clip,
  piece,
  source,
  now,
  per,
}: {
  clip: Clip;
  piece: Piece;
  source: { width: number; height: number };
  now: number;
  per: number;
}) {
  const moments = keyMoments(clip).filter((at) => at !== now);
  return (
    <>
      {moments.slice(0, 6).map((at) => (
        <Polygon
          key={at}
          points={corners(placeOf(clip, source, piece.format, at), per)}
          fill="none"
          stroke="#fff"
          strokeOpacity={0.7}
          strokeWidth={1.2}
          strokeDasharray="4 4"
        />
      ))}
    </>
  );
}

/** Something to pull, 44 pixels to touch. */
function GripAt({ grip, label, x, y, angle = 0 }: Point & { grip: Grip; label: string; angle?: number }) {
  const side = grip !== 'corner';
  const upright = grip === 'left' || grip === 'right';
  return (
    <div
      data-grip={grip}
      data-testid={`grip-${grip}`}
      role="img"
      aria-label={label}
      style={{
        position: 'absolute',
        left: x - 22,
        top: y - 22,
        width: 44,
        height: 44,
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'center',
        touchAction: 'none',
        cursor: grip === 'corner' ? 'nwse-resize' : upright ? 'ew-resize' : 'ns-resize',
        zIndex: side ? 1 : 2,
      }}
    >
      <div
        style={{
          width: side ? (upright ? 5 : 22) : 13,
          height: side ? (upright ? 22 : 5) : 13,
          borderRadius: side ? 3 : 7,
          background: '#fff',
          boxShadow: '0 0 0 2px rgba(0,0,0,0.6)',
          transform: angle ? `rotate(${angle}deg)` : undefined,
        }}
      />
    </div>
  );
}

/** Hears fingers and mouse on the picture. */
function useTouches(
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
      const framed = piece && picturesOf(piece, selected).find(({ clip }) => clip.start <= playhead && playhead < clipEnd(clip));
      hand = piece && framed ? take(piece, framed, playhead, grip, [...down.values()], now.current.per) : null;
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
      tryFigures(
        picturesOf(piece, useEditor.getState().selected).map(({ clip }) => clip),
        last.figures,
      );
    };
    const end = (keep: boolean) => {
      if (due) cancelAnimationFrame(due);
      if (due && keep) look();
      due = 0;
      const figures = last?.figures;
      const piece = currentPiece();
      const made = moved && keep && figures && piece;
      hand = null;
      last = null;
      felt = '';
      setCaught({ x: null, y: null });
      delete node.dataset.dragging;
      if (made)
        setFigures(
          picturesOf(piece, useEditor.getState().selected).map(({ clip }) => clip),
          figures,
        );
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
      openPanel({ name: 'framing' });
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
