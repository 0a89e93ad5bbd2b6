import { clipEnd, isStill, materialAt, speedOf, type Clip, type Piece, type Seam } from '@flimzy/core/piece';
import { formatTimecode, frameLength } from '@flimzy/core/time';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useEditor } from '../open/editor';
import { Still } from '../preview/Still';
import { Text } from '../look/Text';
import { materialOf } from './material';

/** The frame that leaves and the frame that enters, with what lies around them: side by side, or, stacked, one under the other. */
export function Frames({
  piece,
  seam,
  width,
  stacked,
  tallest,
}: {
  piece: Piece;
  seam: Seam;
  width: number;
  stacked: boolean;
  tallest: number;
}) {
  const frame = frameLength(piece.format.rate);
  const { rate } = piece.format;
  const large = stacked ? width : Math.floor((width - 10) / 2);
  const beside = stacked ? 170 : large;
  const tall = stacked ? width - beside - 14 : Math.min(large, Math.round((tallest * piece.format.width) / piece.format.height));
  const left = (time: number) => (time === Infinity ? 'a still has no end' : `${formatTimecode(time, rate)} unused`);
  return (
    <View className={stacked ? 'gap-4' : 'flex-row justify-between'}>
      {(
        [
          ['before', seam.before, clipEnd(seam.before) - frame, 'leaves', seam.unusedAfter, 'after it'],
          ['after', seam.after, seam.after.start, 'enters', seam.unusedBefore, 'before it'],
        ] as const
      ).map(([side, clip, time, word, unused, where]) => (
        <View key={side} style={{ width: large }} className={`items-center ${stacked ? 'flex-row gap-3.5' : 'gap-1.5'}`}>
          <Still piece={piece} time={time} width={tall} label={`The frame of ${clip.name} that ${word}`} testID={`seam-${side}`} />
          <View className="items-center gap-1.5" style={{ width: beside }}>
            <Text kind="label" numberOfLines={1}>
              {clip.name}
            </Text>
            <Text kind="figure">
              {word} {formatTimecode(Math.max(0, materialAt(clip, time)), rate)}
            </Text>
            <Around piece={piece} clip={clip} time={time} width={beside} tallest={stacked ? 40 : Math.round(tallest * 0.28)} side={side} />
            <Text kind="small">
              {left(unused)} {unused === Infinity ? '' : where}
            </Text>
          </View>
        </View>
      ))}
    </View>
  );
}

/** Frames before and after: those the piece shows clear, the unused ones dimmed. */
interface AroundProps {
  piece: Piece;
  clip: Clip;
  time: number;
  width: number;
  tallest: number;
  side: 'before' | 'after';
}

function Around({ piece, clip, time, width, tallest, side }: AroundProps) {
  const media = piece.media[clip.media];
  const material = useMemo(() => materialOf(piece, clip), [piece, clip]);
  if (isStill(clip, media)) return null;
  const frame = frameLength(piece.format.rate);
  const small = Math.min(Math.floor((width - 9) / 4), Math.round((tallest * piece.format.width) / piece.format.height));
  return (
    <View className="flex-row gap-[3px]">
      {[-10, -5, 5, 10].map((by) => {
        const at = materialAt(clip, time) + Math.round(by * frame * speedOf(clip));
        const there = at >= 0 && at < (media?.length ?? 0);
        const unused = side === 'before' ? by > 0 : by < 0;
        return (
          <View key={by} style={{ width: small }}>
            {there ? (
              <View style={{ opacity: unused ? 0.45 : 1 }}>
                <Still piece={material} time={at} width={small} label={`${by} frames, ${unused ? 'unused' : 'used'}`} />
              </View>
            ) : (
              <View
                className="items-center justify-center rounded-lg bg-raised"
                style={{ width: small, height: Math.round((small * piece.format.height) / piece.format.width) }}
              >
                <Text kind="small">end</Text>
              </View>
            )}
            <Text kind="small" className="text-center font-mono">
              {by > 0 ? `+${by}` : `−${-by}`}
            </Text>
          </View>
        );
      })}
    </View>
  );
}

/** The preview's own picture, here while the join plays in a loop. */
export function LoopPicture({ piece, width, tallest }: { piece: Piece; width: number; tallest: number }) {
  const shown = Math.min(width, Math.round((tallest * piece.format.width) / piece.format.height));
  const host = (node: unknown) => useEditor.setState({ borrowed: node instanceof HTMLElement ? node : null });
  return (
    <View className="items-center">
      <View
        ref={host}
        className="overflow-hidden rounded-xl bg-black"
        style={{ width: shown, height: Math.round((shown * piece.format.height) / piece.format.width) }}
      />
    </View>
  );
}
