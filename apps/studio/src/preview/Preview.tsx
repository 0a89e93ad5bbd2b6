import { useEffect, useRef, useState, type ReactNode } from 'react';
import { View, type LayoutChangeEvent } from 'react-native';
import { calmDown } from '../api/calm';
import { setEngine, useEditor, useFormat } from '../open/editor';
import { canRunExact, type PreviewEngine } from '../open/engine';
import { Approximate } from './Approximate';
import { useRenewed } from './renewed';
import { StandIn } from './StandIn';
import { takeEngine } from './warm';

/** Most pixels drawn along the short side: what proxies hold. */
const MOST = 540;

const showPlayhead = (engine: PreviewEngine) => engine.show(useEditor.getState().playhead);

/** The picture of the piece at the playhead, as large as its place allows. `over`: what lies over it, in the same place. */
export function Preview({ over }: { over?: (size: { width: number; height: number }) => ReactNode }) {
  const format = useFormat();
  const host = useRef<View>(null);
  const [place, setPlace] = useState({ width: 0, height: 0 });
  const [exact] = useState(canRunExact);
  const [engine, setOwn] = useState<PreviewEngine | null>(null);
  const borrowed = useEditor((s) => s.borrowed);
  const shown = useEditor((s) => s.shown !== null);
  const open = format !== null;
  useEffect(() => {
    if (!open) return;
    const made = takeEngine();
    setOwn(made);
    setEngine(made);
    Object.assign(globalThis, { flimzyPreview: made }); // for bench/ and e2e/, which measure it
    return () => {
      setEngine(null);
      made.close();
    };
  }, [open]);
  useEffect(() => {
    if (shown) calmDown();
  }, [shown]);

  useRenewed(engine, showPlayhead);

  const scale = format ? Math.min(place.width / format.width, place.height / format.height) : 0;
  const width = format ? Math.floor(format.width * scale) : 0;
  const height = format ? Math.min(Math.floor(place.height), Math.round((width * format.height) / format.width)) : 0;
  const elsewhere = useWidthOf(borrowed);
  const drawnWidth = format ? drawn(format, elsewhere ?? width) : 0;
  const drawnHeight = format ? Math.round((drawnWidth * format.height) / format.width) : 0;

  useEffect(() => {
    const node: unknown = borrowed ?? host.current;
    if (!engine || !(node instanceof HTMLElement) || width <= 0) return;
    const { element } = engine;
    // Its own place has its shape, to a pixel: nothing is left beside it.
    Object.assign(element.style, { width: '100%', height: '100%', display: 'block', objectFit: borrowed ? 'contain' : 'fill' });
    element.setAttribute('role', 'img');
    element.setAttribute('aria-label', 'The picture at the playhead');
    element.dataset.testid = 'picture';
    if (element.parentElement !== node) node.replaceChildren(element);
    engine.resize(drawnWidth, drawnHeight);
    showPlayhead(engine);
  }, [engine, borrowed, width, height, drawnWidth, drawnHeight]);

  return (
    <View
      className="flex-1 items-center justify-start"
      onLayout={({ nativeEvent: { layout } }: LayoutChangeEvent) =>
        setPlace((p) => (p.width === layout.width && p.height === layout.height ? p : { width: layout.width, height: layout.height }))
      }
    >
      <View style={{ width, height }}>
        <View className="overflow-hidden rounded-xl bg-black" style={{ width, height }}>
          <View ref={host} style={{ width, height }} />
          {shown || borrowed || width <= 0 ? null : <StandIn width={width} height={height} />}
        </View>
        {over?.({ width, height })}
        {exact ? null : <Approximate />}
      </View>
    </View>
  );
}

/** How wide something is on the page, in pixels; null for nothing. */
function useWidthOf(node: HTMLElement | null): number | null {
  const [width, setWidth] = useState<number | null>(null);
  useEffect(() => {
    if (!node) return;
    const observer = new ResizeObserver(() => setWidth(node.clientWidth));
    observer.observe(node);
    return () => {
      observer.disconnect();
      setWidth(null);
    };
  }, [node]);
  return node && width;
}

/** Width to draw in pixels: as sharp as the screen shows, no more than the proxies hold; even. */
function drawn(format: { width: number; height: number }, shown: number): number {
  const most = format.width <= format.height ? MOST : Math.round((MOST * format.width) / format.height);
  return Math.max(2, Math.round(Math.min(most, shown * Math.min(2, window.devicePixelRatio || 1)) / 2) * 2);
}
