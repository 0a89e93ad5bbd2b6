import {
  Captions,
  captionsIn,
  CODEC_NAMES,
  FILES,
  isSoundOnly,
  QUALITY_USUAL,
  ratesFor,
  sizesFor,
  SOUND_BITRATES,
  type Control,
  type DeliverySettings,
  type FileKind,
  type PictureCodec,
  type PlatformFormat,
  type SoundCodec,
} from '@flimzy/core/deliver';
import { cuesOf, type Piece } from '@flimzy/core/piece';
import { typedNumber } from '@flimzy/core/properties';
import { rateName, type Rate } from '@flimzy/core/time';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { FigureField } from '../look/Field';
import { NumberField } from '../look/NumberField';
import { Text } from '../look/Text';
import { forgetWish, useWishes, wish } from './wishes';

interface FiguresProps {
  piece: Piece;
  format: PlatformFormat;
  settings: DeliverySettings;
  /** Seconds of what is sent. */
  seconds: number;
}

export function Choosing<T extends string>({
  name,
  value,
  ids,
  say,
  onChange,
}: {
  name: string;
  value: T;
  ids: readonly T[];
  say: (id: T) => string;
  onChange: (id: T) => void;
}) {
  if (ids.length < 2) return null;
  return (
    <View className="gap-1.5 border-t border-hairline py-2.5">
      <Text kind="note">{name}</Text>
      <Choice label={name} value={value} options={ids.map((id) => ({ id, name: say(id) }))} onChange={onChange} />
    </View>
  );
}

/** What becomes of captions, in words. */
export const CAPTIONS_SAY: Record<Captions, string> = { 'burned in': 'in the picture', beside: 'a file beside it', none: 'left out' };

const rateId = ({ num, den }: Rate) => `${num}/${den}`;

/** Every figure of how a file is made, to be changed. */
export function SettingsFigures({ piece, format, settings, seconds }: FiguresProps) {
  const { id } = format;
  const changed = useWishes((all) => all[id] !== undefined);
  const { file, size, picture, sound } = settings;
  const kind = FILES[file];
  const takes = <C extends string>(theirs: readonly C[], mine: readonly C[]) => theirs.filter((codec) => mine.includes(codec));
  const rates = size ? ratesFor(format, piece.format) : [];
  const sizes = size ? sizesFor(format, piece.format) : [];
  return (
    <View className="pt-2" testID={`figures-${id}`}>
      <Choosing<FileKind>
        name="File"
        value={file}
        ids={format.files}
        say={(one) => FILES[one].name}
        onChange={(to) => wish(id, { file: to })}
      />
      {size ? (
        <Choosing
          name="Size"
          value={String(size.width)}
          ids={sizes.map(({ width }) => String(width))}
          say={(width) => `${width} × ${sizes.find((one) => String(one.width) === width)?.height}`}
          onChange={(width) => wish(id, { width: Number(width) })}
        />
      ) : null}
      <Choosing
        name="Frames a second"
        value={rateId(settings.rate)}
        ids={rates.map(rateId)}
        say={(one) => rateName(rates.find((rate) => rateId(rate) === one) ?? settings.rate)}
        onChange={(to) => wish(id, { rate: rates.find((rate) => rateId(rate) === to) ?? settings.rate })}
      />
      {picture ? (
        <>
          <Choosing<PictureCodec>
            name="Picture"
            value={picture.codec}
            ids={takes(format.codecs.picture, kind.picture)}
            say={(codec) => CODEC_NAMES[codec]}
            onChange={(codec) => wish(id, { codec })}
          />
          <Much control={picture.control} format={format} seconds={seconds} soundBitrate={sound?.bitrate ?? 0} />
        </>
      ) : null}
      {sound ? (
        <>
          <Choosing<SoundCodec>
            name="Sound"
            value={sound.codec}
            ids={
              isSoundOnly(format) || id === 'as-it-is'
                ? takes(kind.sound as readonly SoundCodec[], kind.sound)
                : takes(format.codecs.sound, kind.sound)
            }
            say={(codec) => CODEC_NAMES[codec]}
            onChange={(soundCodec) => wish(id, { soundCodec })}
          />
          <SoundRate id={id} sound={sound} />
        </>
      ) : null}
      {file === 'mp4' ? (
        <Choosing
          name="Begins to play"
          value={settings.faststart ? 'yes' : 'no'}
          ids={['yes', 'no']}
          say={(one) => (one === 'yes' ? 'before it is all there' : 'when it is all there')}
          onChange={(one) => wish(id, { faststart: one === 'yes' })}
        />
      ) : null}
      {size && cuesOf(piece).length > 0 ? (
        <Choosing<Captions>
          name="Captions"
          value={captionsIn(settings)}
          ids={Captions.options}
          say={(one) => CAPTIONS_SAY[one]}
          onChange={(captions) => wish(id, { captions })}
        />
      ) : null}
      {changed ? <Button label="As suggested" kind="quiet" onPress={() => forgetWish(id)} testID={`suggested-${id}`} /> : null}
    </View>
  );
}

function SoundRate({ id, sound }: { id: string; sound: NonNullable<DeliverySettings['sound']> }) {
  const range = SOUND_BITRATES[sound.codec];
  if (!range) return null;
  return (
    <NumberField
      label="Sound, kbit/s"
      value={sound.bitrate}
      least={range.least}
      most={range.most}
      step={32_000}
      shown={0.001}
      onChange={(bitrate) => {
        wish(id, { soundBitrate: Math.round(bitrate) });
        return true;
      }}
      testID={`sound-rate-${id}`}
    />
  );
}

const megabytes = (bytes: number) => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 2 : 1)} MB`;

/** How much may be written: by quality, by bits a second, or by the bytes of the file. */
function Much({
  control,
  format,
  seconds,
  soundBitrate,
}: {
  control: Control;
  format: PlatformFormat;
  seconds: number;
  soundBitrate: number;
}) {
  const { id } = format;
  const set = (to: Control) => wish(id, { control: to });
  const usual = Math.min(format.bitrate ?? 8_000_000, 8_000_000);
  const start: Record<Control['by'], Control> = {
    quality: { by: 'quality', quality: QUALITY_USUAL },
    bitrate: { by: 'bitrate', bitrate: usual },
    bytes: {
      by: 'bytes',
      bytes: Math.max(20_000, Math.min(format.bytes ?? Infinity, Math.round(((usual / 2 + soundBitrate) * seconds) / 8))),
    },
  };
  return (
    <>
      <Choosing
        name="What decides the size of the file"
        value={control.by}
        ids={['quality', 'bitrate', 'bytes'] as const}
        say={(by) => ({ quality: 'Quality', bitrate: 'Bitrate', bytes: 'File size' })[by]}
        onChange={(by) => set(start[by])}
      />
      {control.by === 'quality' ? (
        <NumberField
          label="Quality, 0 to 100"
          value={control.quality}
          least={0}
          most={100}
          step={5}
          onChange={(quality) => {
            set({ by: 'quality', quality: Math.round(quality) });
            return true;
          }}
          testID={`quality-${id}`}
        />
      ) : null}
      {control.by === 'bitrate' ? (
        <NumberField
          label="Bitrate, Mbit/s"
          value={control.bitrate}
          least={50_000}
          most={format.bitrate ?? 200_000_000}
          step={500_000}
          shown={1e-6}
          digits={2}
          onChange={(bitrate) => {
            set({ by: 'bitrate', bitrate: Math.round(bitrate) });
            return true;
          }}
          testID={`bitrate-${id}`}
        />
      ) : null}
      {control.by === 'bytes' ? (
        <FigureField
          label="File size, at most"
          value={megabytes(control.bytes)}
          testID={`bytes-${id}`}
          onSubmit={(text) => {
            const typed = typedNumber(text, /mb?/gi);
            if (typed === null || typed < 0.02 || typed > 1_000_000) return 'Megabytes, 0.02 and more.';
            set({ by: 'bytes', bytes: Math.round(typed * 1e6) });
            return null;
          }}
        />
      ) : null}
    </>
  );
}
