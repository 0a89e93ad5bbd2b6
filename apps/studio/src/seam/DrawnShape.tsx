import { outlineFrom } from '@flimzy/core/frame';
import type { Transition } from '@flimzy/core/properties';
import { useRef, useState } from 'react';
import { View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { Text } from '../look/Text';

type Point = [number, number];

const SIDE = 168;
/** How far from the middle of the pad a shape reaches that was drawn, in pixels. */
const REACH = SIDE / 2 - 12;
/** How far a finger goes until there is another point, in pixels. */
const STEP = 3;

const pathOf = (points: readonly (readonly [number, number])[], closed: boolean) =>
  points.length < 2 ? '' : `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}${closed ? 'Z' : ''}`;

/** A pad on which a shape is drawn with a finger, in one go around. */
export function DrawnShape({ value, write }: { value: Transition; write: (next: Transition) => boolean }) {
  const [line, setLine] = useState<Point[]>([]);
  const held = useRef(false);
  const [wrong, setWrong] = useState(false);
  const kept = value.drawn?.map(([x, y]): Point => [SIDE / 2 + x * REACH, SIDE / 2 + y * REACH]) ?? [];
  const at = (event: React.PointerEvent<HTMLDivElement>): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const done = () => {
    if (!held.current) return;
    held.current = false;
    const drawn = outlineFrom(line);
    setLine([]);
    setWrong(drawn === null);
    if (drawn) write({ ...value, shape: 'drawn', drawn });
  };
  return (
    <View className="gap-1.5">
      <div
        role="img"
        aria-label="Draw a shape here with a finger, in one go around"
        data-testid="draw-shape"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = true;
          setLine([at(event)]);
        }}
        onPointerMove={(event) => {
          if (!held.current) return;
          const [x, y] = at(event);
          setLine((all) => {
            const last = all.at(-1);
            return last && Math.hypot(x - last[0], y - last[1]) < STEP ? all : [...all, [x, y]];
          });
        }}
        onPointerUp={done}
        onPointerCancel={() => {
          held.current = false;
          setLine([]);
        }}
        style={{ width: SIDE, height: SIDE, borderRadius: 14, background: 'var(--c-raised)', touchAction: 'none', cursor: 'crosshair' }}
      >
        <Svg width={SIDE} height={SIDE} style={{ pointerEvents: 'none' }}>
          {line.length === 0 && kept.length > 0 ? <Path d={pathOf(kept, true)} fill="var(--c-paper)" /> : null}
          <Path d={pathOf(line, false)} stroke="var(--c-ink)" strokeWidth={3} fill="none" strokeLinecap="round" strokeLinejoin="round" />
        </Svg>
      </div>
      <Text kind="small" className={wrong ? 'text-warn' : ''}>
        {wrong ? 'That encloses nothing: draw once around something.' : 'Draw around with a finger; lift it, and it is seen.'}
      </Text>
    </View>
  );
}
