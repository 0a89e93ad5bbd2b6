import { isFile, pieceLength, type Marker } from '@flimzy/core/piece';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { View } from 'react-native';
import { useMediaOf } from '../api/queries';
import { moveTo, useEditor, usePiece } from '../open/editor';
import { Text } from '../look/Text';
import { columnsFor, columnsIn, GAP, RULER, type Columns } from './columns';
import { Faders, FADERS } from './Faders';
import { attachGestures } from './gestures';
import { standOn } from './ground';
import { Ruler } from './Ruler';
import { toPixels, toTime } from './scale';
import { useShowing } from './showing';
import { HEADS, TrackHeads } from './TrackHeads';
import { Tracks } from './Tracks';

/** Where the playhead stands in the view, from its top. */
const PLAYHEAD_AT = 0.4;

/** Pixels drawn beyond the view on every side, so that a flick shows no gaps. */
const BEYOND = 300;

const NO_MARKERS: readonly Marker[] = [];

/** What part of the timeline is in view, in steps of half of {@link BEYOND}. */
interface Looking {
  down: number;
  across: number;
}

/** The timeline: time runs down under a fixed playhead; scrolling it is scrubbing. */
export function Timeline() {
  const piece = usePiece();
  const scroller = useRef<HTMLDivElement>(null);
  const expected = useRef<number | null>(null);
  const columnsNow = useRef<Columns | null>(null);
  const lineNow = useRef(0);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [looking, setLooking] = useState<Looking>({ down: 0, across: 0 });
  const shift = useShowing((s) => s.show?.shift ?? 0);
  const zoom = useEditor((s) => s.zoom);
  const mixing = useEditor((s) => s.mixing);
  const used = useMemo(() => Object.values(piece?.media ?? {}).flatMap((media) => (isFile(media) ? [media.id] : [])), [piece?.media]);
  const byId = useMediaOf(used);
  const columns = useMemo(() => (piece && size.width > 0 ? columnsFor(piece, size.width) : null), [piece, size.width]);
  const line = Math.round(size.height * PLAYHEAD_AT);
  useLayoutEffect(() => {
    columnsNow.current = columns;
    lineNow.current = line;
  });

  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const observer = new ResizeObserver(() => setSize({ width: node.clientWidth, height: node.clientHeight }));
    observer.observe(node);
    const ground = { node, columns: () => columnsNow.current, line: () => lineNow.current };
    const leave = standOn(ground);
    const detach = attachGestures(ground);
    const onScroll = () => {
      const down = Math.floor(node.scrollTop / (BEYOND / 2));
      const across = Math.floor(node.scrollLeft / (BEYOND / 2));
      setLooking((was) => (was.down === down && was.across === across ? was : { down, across }));
      const { playing, zoom: now } = useEditor.getState();
      if (playing || (expected.current !== null && Math.abs(node.scrollTop - expected.current) < 1.5)) return;
      expected.current = null;
      const time = toTime(node.scrollTop, now);
      if (node.dataset.dragging) useEditor.setState({ playhead: Math.max(0, time) });
      else moveTo(time);
    };
    node.addEventListener('scroll', onScroll, { passive: true });
    return () => {
      observer.disconnect();
      detach();
      leave();
      node.removeEventListener('scroll', onScroll);
    };
  }, []);

  // The scroll follows the playhead wherever that was moved by something else than scrolling; without drawing anything again.
  const height = piece ? toPixels(pieceLength(piece), zoom) : 0;
  useLayoutEffect(() => {
    const follow = ({ playhead }: { playhead: number }) => {
      const node = scroller.current;
      if (!node || node.dataset.dragging) return;
      const top = toPixels(playhead, zoom);
      if (Math.abs(node.scrollTop - top) < 1 && expected.current === null) return;
      if (Math.abs(node.scrollTop - top) > 0.5) {
        expected.current = top;
        node.scrollTop = top;
        expected.current = node.scrollTop;
      }
    };
    follow(useEditor.getState());
    return useEditor.subscribe((now, was) => now.playhead !== was.playhead && follow(now));
  }, [zoom, height, size.height]);

  // What was selected is looked for across, where it stands out of sight: a take on the track that was just made for it.
  const selected = useEditor((s) => (s.selected.length === 1 ? s.selected[0] : undefined));
  const mine = columns?.list.find(({ track }) => track.clips.some((clip) => clip.id === selected));
  const [mineLeft, mineRight] = mine ? [mine.left, mine.left + mine.width + GAP] : [null, null];
  useLayoutEffect(() => {
    const node = scroller.current;
    if (!node || mineLeft === null || node.dataset.dragging) return;
    if (mineRight > node.scrollLeft + node.clientWidth) node.scrollLeft = mineRight - node.clientWidth;
    else if (mineLeft < node.scrollLeft) node.scrollLeft = mineLeft - GAP;
  }, [selected, mineLeft, mineRight]);

  const viewTop = looking.down * (BEYOND / 2) - line - BEYOND;
  const viewBottom = viewTop + size.height + BEYOND * 2.5;
  const seen = columns
    ? columnsIn(columns, looking.across * (BEYOND / 2) - BEYOND, looking.across * (BEYOND / 2) + size.width + BEYOND * 2)
    : [];
  const wide = columns?.width ?? size.width;
  return (
    <div data-testid="timeline" style={{ position: 'absolute', inset: 0, overflow: 'hidden' }}>
      <div
        ref={scroller}
        className="timeline-scroll"
        data-quiet-focus
        tabIndex={0}
        role="application"
        aria-label="Timeline: scroll to move the playhead"
        style={{
          position: 'absolute',
          inset: 0,
          overflowY: 'scroll',
          overflowX: wide > size.width + 1 ? 'auto' : 'hidden',
          touchAction: wide > size.width + 1 ? 'pan-x pan-y' : 'pan-y',
          overscrollBehavior: 'contain',
          userSelect: 'none', // a drag that selects its words would be taken over by the browser
          WebkitUserSelect: 'none',
        }}
      >
        <div
          style={{
            position: 'relative',
            width: wide,
            height: height + size.height,
            transform: shift ? `translateY(${shift}px)` : undefined,
          }}
        >
          {columns && piece ? (
            <>
              <TrackHeads columns={seen} width={wide} shift={shift} />
              {mixing ? (
                <div
                  style={{ position: 'sticky', top: size.height - FADERS, width: wide, height: FADERS, marginBottom: -FADERS, zIndex: 5 }}
                >
                  <Faders columns={seen} width={wide} />
                </div>
              ) : null}
              <div style={{ position: 'absolute', top: line, left: 0, width: wide, height }}>
                <Tracks piece={piece} columns={seen} width={wide} byId={byId} zoom={zoom} viewTop={viewTop} viewBottom={viewBottom} />
              </div>
              {wide > size.width + 1 ? <RulerGround height={size.height - HEADS} /> : null}
              <div
                style={{
                  position: 'sticky',
                  left: 0,
                  width: RULER,
                  height: height + size.height - HEADS,
                  zIndex: 3,
                  pointerEvents: 'none',
                }}
              >
                <div style={{ position: 'absolute', top: line - HEADS }}>
                  <Ruler
                    rate={piece.format.rate}
                    markers={piece.markers ?? NO_MARKERS}
                    zoom={zoom}
                    from={Math.max(0, toTime(viewTop, zoom))}
                    to={toTime(viewBottom, zoom)}
                  />
                </div>
              </div>
            </>
          ) : null}
        </div>
      </div>
      <Playhead line={line} />
      <Bubble />
    </div>
  );
}

/**
 * What the ruler's figures are read on when clips were scrolled aside under them; the outline of a clip beside it is left alone. As tall
 * as the view alone: one as tall as the piece would be painted whole.
 */
function RulerGround({ height }: { height: number }) {
  return (
    <div
      aria-hidden
      style={{
        position: 'sticky',
        left: 0,
        top: HEADS,
        width: RULER - 5,
        height,
        marginBottom: -height,
        zIndex: 3,
        pointerEvents: 'none',
        background: 'color-mix(in srgb, var(--c-ground) 88%, transparent)',
      }}
    />
  );
}

function Playhead({ line }: { line: number }) {
  return (
    <div
      aria-hidden
      style={{
        position: 'absolute',
        top: line - 1,
        left: RULER, // the ruler's figures stay readable
        right: 0,
        height: 2,
        background: 'var(--c-signal)',
        pointerEvents: 'none',
        zIndex: 5,
      }}
    >
      <div style={{ position: 'absolute', left: -6, top: -5, width: 12, height: 12, borderRadius: 6, background: 'var(--c-signal)' }} />
    </div>
  );
}

/** What a drag is doing, in figures and words. */
function Bubble() {
  const show = useShowing((s) => s.show);
  if (!show) return null;
  return (
    <div
      role="status"
      data-testid="drag-says"
      style={{
        position: 'absolute',
        top: 8,
        left: 8,
        right: 8,
        zIndex: 6,
        pointerEvents: 'none',
        background: 'var(--c-paper)',
        borderRadius: 12,
        padding: '6px 10px',
      }}
    >
      <View>
        <Text kind="figure" className="font-monomedium text-onpaper">
          {show.title}
        </Text>
        <Text kind="small" className="text-onpaper">
          {show.note}
        </Text>
      </View>
    </div>
  );
}
