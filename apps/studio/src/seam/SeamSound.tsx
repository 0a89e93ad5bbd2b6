import { PEAK_BINS } from '@flimzy/core/analyse';
import { isHeard, soundSpan, type Clip, type Piece, type Seam } from '@flimzy/core/piece';
import { materialGain } from '@flimzy/core/sound';
import { FLICKS_PER_SECOND, formatTimecode } from '@flimzy/core/time';
import { useRef } from 'react';
import { View } from 'react-native';
import Svg, { Line, Path, Rect } from 'react-native-svg';
import { Text } from '../look/Text';
import { usePeaks } from '../material/peaks';
import { lyingWaveform } from '../timeline/paced';

/** Seconds shown on either side of the join. */
const AROUND = 1.6;
const HEIGHT = 58;

/** The sound around a seam: what is heard of each clip, what is not, and where it changes hands. Dragged across, the hand-over moves. */
export function SeamSound({
  piece,
  seam,
  width,
  onTurn,
  onDone,
}: {
  piece: Piece;
  seam: Seam;
  width: number;
  onTurn: (time: number) => void;
  onDone: (time: number) => void;
}) {
  const zoom = width / (AROUND * 2);
  const left = seam.join - AROUND * FLICKS_PER_SECOND;
  const at = (time: number) => ((time - left) / FLICKS_PER_SECOND) * zoom;
  const dragging = useRef<number | null>(null);
  const time = (e: React.PointerEvent<HTMLDivElement>) =>
    left + ((e.clientX - e.currentTarget.getBoundingClientRect().left) / zoom) * FLICKS_PER_SECOND;
  const { handOver } = seam;
  return (
    <View className="gap-1">
      <div
        data-testid="seam-sound"
        onPointerDown={(e) => {
          if (handOver === null) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          dragging.current = time(e);
          onTurn(dragging.current);
        }}
        onPointerMove={(e) => {
          if (dragging.current === null) return;
          dragging.current = time(e);
          onTurn(dragging.current);
        }}
        onPointerUp={() => {
          if (dragging.current !== null) onDone(dragging.current);
          dragging.current = null;
        }}
        style={{
          width,
          height: HEIGHT * 2 + 4,
          touchAction: 'none',
          position: 'relative',
          cursor: handOver === null ? undefined : 'ew-resize',
        }}
      >
        <Lane piece={piece} clip={seam.before} from={left} width={width} zoom={zoom} top={0} to={at(soundSpan(seam.before).end)} />
        <Lane
          piece={piece}
          clip={seam.after}
          from={left}
          width={width}
          zoom={zoom}
          top={HEIGHT + 4}
          since={at(soundSpan(seam.after).start)}
        />
        <Svg width={width} height={HEIGHT * 2 + 4} style={{ position: 'absolute', top: 0, left: 0 }} pointerEvents="none">
          <Line x1={width / 2} x2={width / 2} y1={0} y2={HEIGHT * 2 + 4} stroke="var(--c-ink)" strokeWidth={1.5} strokeDasharray="4 3" />
          {handOver === null ? null : (
            <>
              <Line x1={at(handOver)} x2={at(handOver)} y1={0} y2={HEIGHT * 2 + 4} stroke="var(--c-speech)" strokeWidth={2.5} />
              <Rect x={at(handOver) - 9} y={HEIGHT - 8} width={18} height={20} rx={6} fill="var(--c-speech)" />
            </>
          )}
        </Svg>
      </div>
      <Text kind="small">
        {handOver === null
          ? 'One of the two has no sound of its own here.'
          : handOver === seam.join
            ? 'Sound changes hands with the picture. Drag across to let it lead or trail.'
            : `Sound changes hands ${formatTimecode(Math.abs(handOver - seam.join), piece.format.rate)} ${handOver < seam.join ? 'before' : 'after'} the picture.`}
      </Text>
    </View>
  );
}

function Lane({
  piece,
  clip,
  from,
  width,
  zoom,
  top,
  since = 0,
  to = width,
}: {
  piece: Piece;
  clip: Clip;
  from: number;
  width: number;
  zoom: number;
  top: number;
  since?: number;
  to?: number;
}) {
  const media = piece.media[clip.media];
  const heard = isHeard(clip, media);
  const bin = PEAK_BINS[0];
  const { data } = usePeaks(clip.media, bin, heard && media?.kind !== 'nest');
  const { path, transform } = lyingWaveform(clip, data, from, width, HEIGHT - 8, zoom, materialGain(clip));
  const [first, last] = [Math.max(0, Math.min(width, since)), Math.max(0, Math.min(width, to))];
  return (
    <div
      style={{
        position: 'absolute',
        top,
        left: 0,
        width,
        height: HEIGHT,
        background: 'var(--c-raised)',
        borderRadius: 8,
        overflow: 'hidden',
      }}
    >
      <Svg width={width} height={HEIGHT}>
        <Path d={path} fill="var(--c-speech)" opacity={0.28} transform={`translate(0 ${HEIGHT - 4}) ${transform}`} />
      </Svg>
      <div
        style={{
          position: 'absolute',
          top: 0,
          left: first,
          width: Math.max(0, last - first),
          height: HEIGHT,
          overflow: 'hidden',
          background: 'color-mix(in srgb, var(--c-speech) 14%, transparent)',
        }}
      >
        <Svg width={width} height={HEIGHT} style={{ position: 'absolute', left: -first }}>
          <Path d={path} fill="var(--c-speech)" transform={`translate(0 ${HEIGHT - 4}) ${transform}`} />
        </Svg>
      </div>
      <span
        style={{ position: 'absolute', left: 6, top: 2, fontFamily: 'InstrumentSans_500Medium', fontSize: 10, color: 'var(--c-muted)' }}
      >
        {clip.name}
      </span>
    </div>
  );
}
