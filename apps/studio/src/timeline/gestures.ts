import { findClip, type Piece } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { currentPiece, moveTo, pause, select, selectAll, setZoom, stopTrying, touchClip, useEditor } from '../open/editor';
import { boxed } from './box';
import { carry } from './carry';
import type { Ground } from './ground';
import { pullEnd, pullMarker, pullSound } from './pull';
import { isShape, pullShape, touchShape, type ShapeHandle } from './shape';
import { toTime } from './scale';
import { alike, useShowing } from './showing';
import type { Hold, Trial } from './trial';

type Handle = 'head' | 'tail' | 'sound-head' | 'sound-tail' | ShapeHandle;

interface Drag {
  pointer: number;
  /** The clip under the finger; null for a box drawn on empty ground. */
  clip: string | null;
  handle: Handle | null;
  /** The point of an envelope under the finger, the time it took hold at, and how wide the sound is drawn. */
  point: number;
  time: Flicks;
  width: number;
  /** The marker under the finger; null for anything else. */
  marker: string | null;
  startX: number;
  startY: number;
  startScroll: number;
  lastX: number;
  lastY: number;
  began: boolean;
  free: boolean;
  over: boolean;
  more: boolean;
  commit: (() => boolean) | null;
  hold: ReturnType<typeof setTimeout> | null;
  rest: ReturnType<typeof setTimeout> | null;
  touch: boolean;
}

/** A finger that stays this long picks a clip up, in ms; a mouse does by moving this far, in px. */
const HOLD = 360;
const SLOP = 7;

/** A finger that rests this long while dragging switches catching off until it lifts, in ms. */
const REST = 700;

/** How near the edge the timeline scrolls by itself, in px. */
const EDGE = 58;

/**
 * Touch, mouse and wheel on the timeline: pulling ends and sound edges, picking up and moving clips across tracks, drawing a box
 * around clips, pinching. Scrolling itself is the browser's own. Returns what takes it all off again.
 */
export function attachGestures(ground: Ground): () => void {
  const { node } = ground;
  let drag: Drag | null = null;
  let pinch: { span: number; zoom: number } | null = null;
  let scrolling = 0;
  let endedAt = -Infinity;
  const abort = new AbortController();
  const on = <K extends keyof HTMLElementEventMap>(type: K, listener: (event: HTMLElementEventMap[K]) => void, passive = true) =>
    node.addEventListener(type, listener, { passive, signal: abort.signal });

  const zoom = () => useEditor.getState().zoom;
  let lastCaught: number | null = null;

  /** What lifting the finger now would do, shown. */
  function update(): void {
    const piece = currentPiece();
    if (!piece || !drag) return;
    if (drag.clip === null && drag.marker === null) return updateBox();
    const by = toTime(drag.lastY - drag.startY + node.scrollTop - drag.startScroll, zoom());
    const hold = { by, across: drag.lastX - drag.startX, free: drag.free, over: drag.over };
    const trial = tryIt(piece, drag, hold);
    if (!trial) return;
    drag.commit = trial.commit;
    const { caught } = trial.show;
    if (caught !== null && caught !== lastCaught) navigator.vibrate?.(6);
    lastCaught = caught;
    const { show } = useShowing.getState();
    if (!show || !alike(show, trial.show)) useShowing.setState({ show: trial.show });
  }

  function tryIt(piece: Piece, { clip: id, handle, marker, lastX, point, time, width }: Drag, hold: Hold): Trial | null {
    const mark = marker === null ? undefined : piece.markers?.find((m) => m.id === marker);
    if (mark) return pullMarker(piece, mark, hold);
    const clip = id === null ? undefined : findClip(piece, id)?.clip;
    if (!clip) return null;
    if (handle === 'head' || handle === 'tail') return pullEnd(piece, clip, handle, hold);
    if (isShape(handle)) return pullShape(piece, clip, handle, point, time, width, hold);
    if (handle) return pullSound(piece, clip, handle === 'sound-head' ? 'head' : 'tail', hold);
    return carry(piece, clip, ground.columns(), lastX - node.getBoundingClientRect().left + node.scrollLeft, hold);
  }

  /** At most once for each frame of the page, however often a finger tells where it is. */
  let due = 0;
  function updateSoon(): void {
    due ||= requestAnimationFrame(() => {
      due = 0;
      update();
    });
  }

  function updateBox(): void {
    if (!drag) return;
    const rect = node.getBoundingClientRect();
    const x = [drag.startX - rect.left + node.scrollLeft, drag.lastX - rect.left + node.scrollLeft];
    const y = [drag.startY - rect.top + drag.startScroll, drag.lastY - rect.top + node.scrollTop].map((v) => v - ground.line());
    const box = { left: Math.min(...x), right: Math.max(...x), top: Math.min(...y), bottom: Math.max(...y) };
    useShowing.setState({ box });
    const piece = currentPiece();
    const columns = ground.columns();
    if (piece && columns) selectAll(boxed(columns, box, zoom()));
  }

  /** On a touch screen, resting the finger lets go of what it would catch on: the frame under it is reached as it is. */
  function awaitRest(now: Drag): void {
    if (!now.touch || now.free) return;
    if (now.rest) clearTimeout(now.rest);
    now.rest = setTimeout(() => {
      if (drag !== now) return;
      now.free = true;
      navigator.vibrate?.([4, 40, 4]);
      update();
      node.dataset.dragging = 'free';
    }, REST);
  }

  /** Near the upper or lower edge the timeline scrolls on by itself. */
  function scrollOn(): void {
    if (!drag?.began) return;
    const box = node.getBoundingClientRect();
    const into = Math.max(0, EDGE - (drag.lastY - box.top)) * -1 + Math.max(0, EDGE - (box.bottom - drag.lastY));
    const aside = Math.max(0, 24 - (drag.lastX - box.left)) * -1 + Math.max(0, 24 - (box.right - drag.lastX));
    if (into !== 0 || aside !== 0) {
      node.scrollTop += into / 5;
      node.scrollLeft += aside / 4;
      update();
    }
    scrolling = requestAnimationFrame(scrollOn);
  }

  function begin(): void {
    if (!drag || drag.began) return;
    drag.began = true;
    // Carried to another track, the clip under the finger is drawn anew: events must not go with the old one.
    node.setPointerCapture(drag.pointer);
    if (drag.clip !== null) {
      drag.startY = drag.lastY;
      drag.startX = drag.lastX;
      drag.startScroll = node.scrollTop;
      if (drag.touch) navigator.vibrate?.(14);
      if (!drag.handle && !useEditor.getState().selected.includes(drag.clip)) select(drag.clip);
    }
    node.dataset.dragging = 'yes';
    update();
    scrollOn();
  }

  function finish(keep: boolean): void {
    if (due) {
      cancelAnimationFrame(due);
      due = 0;
      if (keep) update();
    }
    const done = drag;
    drag = null;
    if (!done) return;
    if (done.hold) clearTimeout(done.hold);
    if (done.rest) clearTimeout(done.rest);
    cancelAnimationFrame(scrolling);
    delete node.dataset.dragging;
    lastCaught = null;
    useShowing.setState({ show: null, box: null });
    if (!done.began) return;
    endedAt = performance.now();
    const head = done.handle === 'head' && useEditor.getState().rest === 'follow';
    const made = keep && done.commit ? done.commit() : false;
    stopTrying();
    const clip = made && head && done.clip ? findClip(currentPiece() as Piece, done.clip)?.clip : null;
    if (clip) moveTo(clip.start);
  }

  on('pointerdown', (event) => {
    if (event.button !== 0 || drag || !(event.target instanceof Element) || event.target.closest('[data-head]')) return;
    pause();
    const handle = event.target.closest<HTMLElement>('[data-handle]');
    const block = event.target.closest<HTMLElement>('[data-clip]');
    const id = (handle ?? block)?.dataset.clip ?? null;
    const marker = event.target.closest<HTMLElement>('[data-marker]')?.dataset.marker ?? null;
    const touch = event.pointerType === 'touch';
    const { gathering } = useEditor.getState();
    if (id === null && marker === null && touch && !gathering) return;
    drag = {
      pointer: event.pointerId,
      clip: id,
      handle: (handle?.dataset.handle as Handle | undefined) ?? null,
      point: Number(handle?.dataset.point ?? -1),
      time: toTime(event.clientY - node.getBoundingClientRect().top + node.scrollTop - ground.line(), zoom()),
      width: block?.closest<HTMLElement>('[data-kind]')?.clientWidth ?? 0,
      marker,
      startX: event.clientX,
      startY: event.clientY,
      startScroll: node.scrollTop,
      lastX: event.clientX,
      lastY: event.clientY,
      began: false,
      free: event.altKey,
      over: event.shiftKey,
      more: event.shiftKey || event.ctrlKey || event.metaKey,
      commit: null,
      hold: null,
      rest: null,
      touch,
    };
    if (drag.handle && drag.handle !== 'line') begin();
    else if (touch && marker === null) drag.hold = setTimeout(begin, HOLD);
  });
  on('pointermove', (event) => {
    if (!drag || drag.pointer !== event.pointerId) return;
    const far = Math.hypot(event.clientY - drag.startY, event.clientX - drag.startX) > SLOP;
    Object.assign(drag, { lastX: event.clientX, lastY: event.clientY, over: event.shiftKey });
    if (!drag.touch) drag.free = event.altKey;
    if (drag.began) {
      awaitRest(drag);
      return updateSoon();
    }
    if (!far) return;
    if (drag.handle === 'line' && Math.abs(event.clientX - drag.startX) > Math.abs(event.clientY - drag.startY)) begin();
    else if (drag.touch && drag.marker === null) finish(false);
    else begin();
  });
  on('pointerup', (event) => {
    if (!drag || drag.pointer !== event.pointerId) return;
    const { began, clip, more, handle, point, time, startX, startY } = drag;
    const still = Math.hypot(event.clientY - startY, event.clientX - startX) <= SLOP;
    const shape = isShape(handle) && still && !(handle === 'line' && began) ? handle : null;
    finish(!shape);
    const touched = clip === null ? undefined : findClip(currentPiece() as Piece, clip)?.clip;
    if (shape && touched) touchShape(touched, shape, point, time);
    else if (!began && clip !== null) touchClip(clip, more);
  });
  on('pointercancel', () => finish(false));
  on('click', (event) => {
    if (event.timeStamp - endedAt < 80) return; // the end of a drag is no touch beside the clips
    if (
      event.target instanceof Element &&
      !event.target.closest('[data-clip], [data-head], [data-marker]') &&
      !useEditor.getState().gathering
    )
      select(null);
  });
  on('contextmenu', (event) => event.preventDefault(), false);

  /** Keeps the browser from scrolling while something is dragged; what was touched goes on hearing of it when it is drawn anew. */
  function holdStill(touched: EventTarget | null): void {
    if (!touched) return;
    const still = new AbortController();
    const hold = (event: Event) => drag?.began && event.cancelable && event.preventDefault();
    touched.addEventListener('touchmove', hold, { passive: false, signal: still.signal });
    for (const type of ['touchend', 'touchcancel']) touched.addEventListener(type, () => still.abort(), { signal: still.signal });
  }

  const span = (touches: TouchList) =>
    Math.hypot((touches[0]?.clientX ?? 0) - (touches[1]?.clientX ?? 0), (touches[0]?.clientY ?? 0) - (touches[1]?.clientY ?? 0));
  on('touchstart', (event) => {
    holdStill(event.target);
    if (event.touches.length !== 2) return;
    finish(false);
    pinch = { span: span(event.touches), zoom: zoom() };
  });
  on(
    'touchmove',
    (event) => {
      if (pinch && event.touches.length === 2) {
        event.preventDefault();
        setZoom((pinch.zoom * span(event.touches)) / Math.max(1, pinch.span));
      }
    },
    false,
  );
  on('touchend', (event) => {
    if (event.touches.length < 2) pinch = null;
  });
  on(
    'wheel',
    (event) => {
      pause();
      if (!event.ctrlKey && !event.metaKey) return;
      event.preventDefault();
      setZoom(zoom() * Math.exp(-event.deltaY / 240));
    },
    false,
  );
  const escape = (event: KeyboardEvent) => {
    if (event.key === 'Escape' && drag?.began) finish(false);
  };
  window.addEventListener('keydown', escape, { signal: abort.signal });
  return () => {
    abort.abort();
    finish(false);
  };
}
