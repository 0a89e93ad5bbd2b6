import type { Flashing } from '@flimzy/core/analyse';
import { captionsIn, CODEC_NAMES, FILES, isSoundOnly, partsFor, type DeliverySettings, type PlatformFormat } from '@flimzy/core/deliver';
import { cuesOf, heardTracks, pieceLength, type Piece } from '@flimzy/core/piece';
import { rateName, toSeconds } from '@flimzy/core/time';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { Text } from '../look/Text';
import type { Measured } from '../open/engine';
import { Estimate } from './Estimate';
import { Findings } from './Findings';
import { copyOf, dropFormat, exportFormat, isOwn, keepFormat, toggleFormat } from './formats';
import { LengthBar, sayLength } from './LengthMeter';
import { OwnFormat } from './OwnFormat';
import { CAPTIONS_SAY, SettingsFigures } from './SettingsFigures';
import { useChecked } from './useChecked';
import { AS_IT_IS, settingsFor, useTracksApart, useWishes, setTracksApart } from './wishes';

/** "1080 × 1920 · 30 fps · MP4, H.264 + AAC": how a file is made, in a line. */
export function saySettings({ size, rate, file, picture, sound }: DeliverySettings): string {
  const codecs = [picture?.codec, FILES[file].picture.length > 0 ? sound?.codec : undefined].flatMap((codec) =>
    codec ? [CODEC_NAMES[codec]] : [],
  );
  return [
    ...(size ? [`${size.width} × ${size.height}`, `${rateName(rate)} fps`] : []),
    `${FILES[file].name}${codecs.length > 0 ? `, ${codecs.join(' + ')}` : ''}`,
    ...(!picture && sound && sound.bitrate > 0 ? [`${sound.bitrate / 1000} kbit/s`] : []),
  ].join(' · ');
}

interface PartProps {
  piece: Piece;
  format: PlatformFormat;
  all: readonly PlatformFormat[];
  loud: Measured | null;
  flashes: readonly Flashing[];
  measuring: boolean;
  onLeave: () => void;
}

/** One format that the piece is sent in: how the file is made, what would go wrong. How it looks there stands above, with the other shapes. */
export function FormatPart({ piece, format, all, loud, flashes, measuring, onLeave }: PartProps) {
  const [figures, setFigures] = useState(false);
  const [own, setOwn] = useState(false);
  const wanted = useWishes((every) => every[format.id]);
  const { settings, reason } = useMemo(() => settingsFor(piece, format, wanted), [piece, format, wanted]);
  const plain = format.id === AS_IT_IS;
  const findings = useChecked(piece, plain ? null : format, settings, { loud, flashes });
  const length = pieceLength(piece);
  const { rate } = piece.format;
  const seen = settings.size !== null;
  const cues = useMemo(() => cuesOf(piece).length, [piece]);
  const parts = partsFor(length, format, piece.format);
  const { most } = format.length;
  const copy = async () => {
    const mine = copyOf(format, all);
    if (await keepFormat(mine)) toggleFormat(piece, mine, [...all, mine]);
  };
  return (
    <View className="gap-3 rounded-2xl border border-hairline p-3" testID={`part-${format.id}`}>
      <View className="gap-1.5">
        <View>
          <Text kind="heading" accessibilityRole="header">
            {format.name}
          </Text>
          {format.platform ? <Text kind="small">{format.platform}</Text> : null}
        </View>
        {most !== null ? (
          <View className="gap-1">
            <Text kind="figure" testID={`length-${format.id}`}>
              {sayLength(length, most, rate)}
            </Text>
            <LengthBar length={length} most={most} />
          </View>
        ) : null}
        {parts.length > 1 ? <Text kind="note">{parts.length} parts, a file each</Text> : null}
        <Text kind="small" className="font-mono leading-[16px]" testID={`settings-${format.id}`}>
          {saySettings(settings)}
        </Text>
        {seen && cues > 0 ? (
          <Text kind="note" testID={`captions-${format.id}`}>
            {cues === 1 ? '1 caption' : `${cues} captions`}, {CAPTIONS_SAY[captionsIn(settings)]}
          </Text>
        ) : null}
        {reason ? <Text kind="note">{reason}</Text> : null}
      </View>
      {isSoundOnly(format) ? <TracksApart piece={piece} /> : null}
      {plain || length === 0 ? null : <Findings findings={findings} piece={piece} onLeave={onLeave} />}
      {measuring && format.loudness ? <Text kind="small">Measuring the loudness …</Text> : null}
      <View className="flex-row flex-wrap gap-2">
        <Button label={figures ? 'Hide figures' : 'Figures'} onPress={() => setFigures(!figures)} testID={`change-${format.id}`} />
        {plain ? null : isOwn(format) ? (
          <>
            <Button label={own ? 'Hide limits' : 'Limits'} onPress={() => setOwn(!own)} testID={`limits-${format.id}`} />
            <Button label="As JSON" kind="quiet" onPress={() => exportFormat(format)} testID={`save-${format.id}`} />
            <Button label="Remove" kind="quiet" onPress={() => void dropFormat(format)} testID={`remove-${format.id}`} />
          </>
        ) : (
          <Button label="Copy as my own" kind="quiet" onPress={() => void copy()} testID={`copy-${format.id}`} />
        )}
      </View>
      {own && isOwn(format) ? <OwnFormat format={format} /> : null}
      {length > 0 && parts.length === 1 ? <Estimate piece={piece.id} format={format} settings={settings} /> : null}
      {figures ? <SettingsFigures piece={piece} format={format} settings={settings} seconds={toSeconds(length)} /> : null}
    </View>
  );
}

/** The sound as one file, or a file for each track. */
function TracksApart({ piece }: { piece: Piece }) {
  const apart = useTracksApart((s) => s.apart);
  const tracks = heardTracks(piece).filter((track) => track.clips.length > 0);
  if (tracks.length < 2) return null;
  return (
    <Choice
      label="Tracks"
      value={apart ? 'apart' : 'together'}
      options={[
        { id: 'together', name: 'One file' },
        { id: 'apart', name: `A file for each of ${tracks.length} tracks` },
      ]}
      onChange={(to) => setTracksApart(to === 'apart')}
    />
  );
}
