import type { MediaItem } from '@flimzy/contract';
import AudioLines from 'lucide-react-native/icons/audio-lines';
import CircleAlert from 'lucide-react-native/icons/circle-alert';
import LoaderCircle from 'lucide-react-native/icons/loader-circle';
import { View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { AS_IT_IS, binFor, usePeaks, waveformPath } from './peaks';
import { StripPicture } from './StripPicture';

/** A small picture of an item: a frame, or its waveform. */
export function Thumb({ item, width, height }: { item: MediaItem; width: number; height: number }) {
  const { facts, filmstrip } = item;
  if (filmstrip && facts) {
    const scale = Math.max(width / filmstrip.width, height / filmstrip.height);
    const [w, h] = [filmstrip.width * scale, filmstrip.height * scale];
    const n = Math.min(filmstrip.count - 1, Math.floor(filmstrip.count / 3));
    return (
      <div style={{ width, height, overflow: 'hidden', position: 'relative', background: '#000' }}>
        <StripPicture
          media={item.id}
          strip={filmstrip}
          n={n}
          width={w}
          height={h}
          style={{ left: (width - w) / 2, top: (height - h) / 2 }}
        />
      </div>
    );
  }
  if (facts?.kind === 'sound' && item.hasPeaks) return <SoundThumb item={item} width={width} height={height} />;
  const Glyph = item.status === 'failed' ? CircleAlert : facts?.kind === 'sound' ? AudioLines : LoaderCircle;
  return (
    <View className="items-center justify-center bg-raised" style={{ width, height }}>
      <Glyph size={26} color={item.status === 'failed' ? 'var(--c-warn)' : 'var(--c-muted)'} />
    </View>
  );
}

function SoundThumb({ item, width, height }: { item: MediaItem; width: number; height: number }) {
  const seconds = Math.max(0.1, (item.facts?.length ?? 0) / 705_600_000);
  const zoom = width / Math.min(seconds, 12);
  const bin = binFor(zoom);
  const { data } = usePeaks(item.id, bin, true);
  return (
    <View className="overflow-hidden" style={{ width, height, backgroundColor: 'color-mix(in srgb, var(--c-music) 14%, var(--c-panel))' }}>
      {data ? (
        <Svg width={width} height={height}>
          <Path
            d={waveformPath(data, bin, 0, width, height * 0.8, zoom, AS_IT_IS).outline}
            fill="var(--c-music)"
            transform={`translate(0 ${height * 0.9}) rotate(-90)`}
          />
        </Svg>
      ) : null}
    </View>
  );
}
