import { useRef } from 'react';
import { View } from 'react-native';
import { Button } from './Button';

/** Pixels under the thumb for one frame. */
const NOTCH = 11;

/**
 * A broad strip turned by the thumb, a notch a frame, with steps beside it. While it turns, `onTurn` gets the frames turned so
 * far; `onDone` keeps them, `onTurn(0)` takes them back.
 */
export function Wheel({
  label,
  onTurn,
  onDone,
  testID,
}: {
  label: string;
  onTurn: (frames: number) => void;
  onDone: (frames: number) => void;
  testID?: string;
}) {
  const strip = useRef<HTMLDivElement>(null);
  const from = useRef<{ x: number; frames: number } | null>(null);
  const turn = (x: number) => {
    if (!from.current) return;
    const frames = Math.round((x - from.current.x) / NOTCH);
    if (strip.current) strip.current.style.backgroundPositionX = `${x - from.current.x}px`;
    if (frames === from.current.frames) return;
    from.current.frames = frames;
    navigator.vibrate?.(3);
    onTurn(frames);
  };
  const end = (keep: boolean) => {
    const frames = from.current?.frames ?? 0;
    from.current = null;
    if (strip.current) strip.current.style.backgroundPositionX = '0px';
    if (keep && frames !== 0) onDone(frames);
    else onTurn(0);
  };
  const key: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 };
  return (
    <View className="gap-2">
      <div
        ref={strip}
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuenow={0}
        aria-valuetext="frames"
        data-testid={testID}
        onPointerDown={(e) => {
          from.current = { x: e.clientX, frames: 0 };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => turn(e.clientX)}
        onPointerUp={() => end(true)}
        onPointerCancel={() => end(false)}
        onKeyDown={(e) => {
          const by = key[e.key];
          if (by === undefined) return;
          e.preventDefault();
          onDone(by);
        }}
        style={{
          height: 60,
          borderRadius: 16,
          touchAction: 'none',
          cursor: 'ew-resize',
          backgroundColor: 'var(--c-raised)',
          backgroundImage: `linear-gradient(90deg, var(--c-muted) 0 2px, transparent 2px), linear-gradient(90deg, var(--c-panel), transparent 30% 70%, var(--c-panel))`,
          backgroundSize: `${NOTCH}px 26px, 100% 100%`,
          backgroundRepeat: 'repeat-x, no-repeat',
          backgroundPositionY: 'center',
        }}
      />
      <View className="flex-row gap-2">
        {[-10, -1, 1, 10].map((by) => (
          <View key={by} className="flex-1">
            <Button
              label={`${by < 0 ? '−' : '+'}${Math.abs(by)}`}
              onPress={() => onDone(by)}
              testID={testID ? `${testID}${by}` : undefined}
            />
          </View>
        ))}
      </View>
    </View>
  );
}
