import { useEffect, useRef, useState } from 'react';
import { Pressable, View } from 'react-native';
import { dbOf, upMeter } from '../look/level';
import { Text } from '../look/Text';
import type { PreviewEngine } from '../open/engine';
import { useEditor } from '../open/editor';

const SILENT = '–∞ dB';

const ofPiece = (engine: PreviewEngine) => engine.peak();
const ofClip = (engine: PreviewEngine) => engine.clipPeak();

interface MeterProps {
  name: string;
  read: (engine: PreviewEngine) => number;
}

/** How loud something is just now, in dB below full scale; once it was over that, it says so until it is touched. */
function Bar({ name, read }: MeterProps) {
  const bar = useRef<View>(null);
  const [text, setText] = useState(SILENT);
  const [over, setOver] = useState(false);
  const playing = useEditor((s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    let held = 0;
    const timer = setInterval(() => {
      const { engine } = useEditor.getState();
      held = Math.max(engine ? read(engine) : 0, held * 0.86);
      const db = dbOf(held);
      const node: unknown = bar.current;
      if (node instanceof HTMLElement) node.style.width = `${upMeter(db) * 100}%`;
      setText(db < -60 ? SILENT : `${Math.round(db)} dB`);
      if (db > 0.05) setOver(true);
    }, 60);
    return () => {
      clearInterval(timer);
      setText(SILENT);
    };
  }, [playing, read]);
  return (
    <View className="flex-1 flex-row items-center gap-2" accessibilityLabel={`${name} ${over ? 'was too loud' : text}`}>
      <View className="h-[6px] flex-1 overflow-hidden rounded-full bg-raised">
        <View ref={bar} className="h-full rounded-full bg-music" style={{ width: playing ? undefined : 0 }} />
      </View>
      {over ? (
        <Pressable
          accessibilityRole="button"
          accessibilityLabel={`${name} was too loud; touch to clear the mark`}
          onPress={() => setOver(false)}
          hitSlop={14}
          className="min-h-[24px] justify-center"
        >
          <Text kind="small" className="text-warn">
            too loud
          </Text>
        </Pressable>
      ) : (
        <Text kind="small" className="w-[46px] text-right font-mono">
          {text}
        </Text>
      )}
    </View>
  );
}

/** The piece, as it is played. */
export const Meter = () => <Bar name="Level" read={ofPiece} />;

/** What one clip adds to it, after its level, envelope and fades. */
export function ClipMeter({ clip }: { clip: string }) {
  const engine = useEditor((s) => s.engine);
  useEffect(() => {
    engine?.watch(clip);
    return () => engine?.watch(null);
  }, [engine, clip]);
  return (
    <View className="min-h-[28px] flex-row items-center border-t border-hairline" testID="clip-meter">
      <Bar name="Level of this clip" read={ofClip} />
    </View>
  );
}
