import { safeAreas } from '@flimzy/core/deliver';
import { cornersOf, gripsOf, placeOf, SAFE, type Placed, type Rect as Area, type Side } from '@flimzy/core/frame';
import { type Clip, type Piece } from '@flimzy/core/piece';
import { keyMoments, valueOf } from '@flimzy/core/properties';
import { useMemo, useState } from 'react';
import Svg, { G, Line, Polygon, Rect } from 'react-native-svg';
import { useEditor, usePiece } from '../open/editor';
import { chosenOf, useFormats } from '../open/formats';
import { momentOf, sizeOf } from '../open/framing';
import { usePanel } from '../open/panels';
import { useChosenPart } from '../open/titles';
import { placeOfPart, seenPlace, useFontsOf, withAir } from './seenPlace';
import { framedAt, type Grip } from './touch';
import { useTouches } from './useTouches';

interface HandlesProps {
  /** Size of the picture on the screen, in pixels. */
  width: number;
  height: number;
}

/** How far within the frame a grip is kept whose corner lies outside of it, in pixels of the screen. */
const INSET = 9;

/** How far around the frame outlines are seen, in pixels of the screen. */
const AROUND = 6;

/** How far the outline of a title stands from its words, in pixels of the screen: its grips must not lie on them. */
const AIR = 12;

interface Point {
  x: number;
  y: number;
}

/** The picture of the preview to be touched: a touch chooses what it falls on, and what is chosen has grips while framing stands open. */
export function Handles({ width, height }: HandlesProps) {
  const open = usePanel((s) => s.panel?.name === 'framing' || s.panel?.name === 'title');
  const piece = usePiece();
  const selected = useEditor((s) => s.selected);
  const guides = useEditor((s) => s.guides);
  const playhead = useEditor((s) => s.playhead);
  const [host, setHost] = useState<HTMLDivElement | null>(null);
  const [caught, setCaught] = useState<{ x: number | null; y: number | null }>({ x: null, y: null });
  const per = piece ? piece.format.width / Math.max(1, width) : 1;
  const framed = open && piece ? framedAt(piece, selected, playhead) : undefined;
  const writing = usePanel((s) => s.panel?.name === 'title');
  const overlay = framed ? valueOf(framed.clip, 'overlay') : 'none';
  const part = useChosenPart(overlay === 'none' ? null : overlay);
  useFontsOf(framed?.clip);
  useTouches(host, per, open, setCaught);
  const safe = useSafe(piece);
  if (!piece || width <= 0) return null;
  const kept = guides || framed?.media.kind === 'overlay' ? safe : [];
  const lies = framed && ((writing && placeOfPart(piece, framed, playhead, part)) || seenPlace(piece, framed, playhead));
  const place = lies && (framed.media.kind === 'overlay' ? withAir(lies, AIR * per) : lies);
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
        {kept.map(({ name, area }, n) => (
          <SafeArea key={name} area={area} nth={n} per={per} />
        ))}
        {caught.x !== null ? (
          <Line x1={caught.x / per} x2={caught.x / per} y1={0} y2={height} stroke="var(--c-signal)" strokeWidth={1.5} />
        ) : null}
        {caught.y !== null ? (
          <Line y1={caught.y / per} y2={caught.y / per} x1={0} x2={width} stroke="var(--c-signal)" strokeWidth={1.5} />
        ) : null}
      </Svg>
      {width > NAMED_FROM
        ? kept.map(({ name, area }, n) => (name ? <SafeName key={name} name={name} area={area} nth={n} per={per} /> : null))
        : null}
      {grips?.corners.map((corner, n) => (
        <GripAt key={n} grip="corner" label="Corner: pull to make the picture larger or smaller" {...shown(corner)} />
      ))}
      {grips && framed?.media.kind !== 'overlay'
        ? (Object.entries(grips.sides) as [Side, Point][]).map(([side, at]) => (
            <GripAt key={side} grip={side} label={`${side} side: pull to cut the picture there`} {...shown(at)} angle={place?.turn ?? 0} />
          ))
        : null}
    </div>
  );
}

/** The narrowest picture on which there is room for the names of formats, in pixels of the screen. */
const NAMED_FROM = 120;

const LINE = { stroke: '#fff', strokeOpacity: 0.55, strokeWidth: 1 };

/** How far the names of two areas that begin at one height stand apart, in pixels of the screen. */
const NAME_APART = 13;

/** Where words are safe, in pixels of the piece: on the platforms that it is made for, each by name, or on any screen. */
function useSafe(piece: Piece | null): { name: string; area: Area }[] {
  const all = useFormats();
  return useMemo(() => {
    if (!piece) return [];
    const { width, height } = piece.format;
    const chosen = safeAreas(chosenOf(piece, all), piece.format);
    const any = { x: SAFE * width, y: SAFE * height, width: (1 - 2 * SAFE) * width, height: (1 - 2 * SAFE) * height };
    return chosen.length > 0 ? chosen : [{ name: '', area: any }];
  }, [piece, all]);
}

/** The outline of where words are safe, the names of platforms in its upper corner. */
function SafeArea({ area, nth, per }: { area: Area; nth: number; per: number }) {
  return (
    <Rect
      x={area.x / per}
      y={area.y / per}
      width={area.width / per}
      height={area.height / per}
      fill="none"
      {...LINE}
      strokeDasharray={nth % 2 === 0 ? '6 4' : '2 3'}
    />
  );
}

function SafeName({ name, area, nth, per }: { name: string; area: Area; nth: number; per: number }) {
  return (
    <span
      data-testid="safe-area"
      style={{
        position: 'absolute',
        left: area.x / per + 4,
        top: area.y / per + 2 + nth * NAME_APART,
        maxWidth: area.width / per - 8,
        overflow: 'hidden',
        whiteSpace: 'nowrap',
        textOverflow: 'ellipsis',
        pointerEvents: 'none',
        fontFamily: 'InstrumentSans_500Medium',
        fontSize: 10,
        lineHeight: '12px',
        color: '#fff',
        textShadow: '0 0 3px #000, 0 0 2px #000',
      }}
    >
      {name}
    </span>
  );
}

/** Thirds, and the middle. */
function Guides({ width, height }: HandlesProps) {
  return (
    <>
      {[1 / 3, 2 / 3].map((share) => (
        <G key={share}>
          <Line x1={share * width} x2={share * width} y1={0} y2={height} {...LINE} />
          <Line y1={share * height} y2={share * height} x1={0} x2={width} {...LINE} />
        </G>
      ))}
      <Line x1={width / 2 - 10} x2={width / 2 + 10} y1={height / 2} y2={height / 2} {...LINE} strokeOpacity={0.9} />
      <Line x1={width / 2} x2={width / 2} y1={height / 2 - 10} y2={height / 2 + 10} {...LINE} strokeOpacity={0.9} />
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
