import { Captions, PlatformFormat } from '@flimzy/core/deliver';
import { sameShape } from '@flimzy/core/piece';
import { typedNumber } from '@flimzy/core/properties';
import { View } from 'react-native';
import { FigureField } from '../look/Field';
import { formatNow, keepFormat } from './formats';
import { CAPTIONS_SAY, Choosing } from './SettingsFigures';

/** What is changed of the format as it is now, or why nothing is. */
type Change = ((now: PlatformFormat) => Partial<PlatformFormat>) | string;

/** The limits of a format of one's own, each of them to be typed. What makes no sense is said, and nothing is changed. */
export function OwnFormat({ format }: { format: PlatformFormat }) {
  const set = (change: Change): string | null => {
    if (typeof change === 'string') return change;
    const now = formatNow(format);
    const next = PlatformFormat.safeParse({ ...now, ...change(now) });
    if (!next.success) return next.error.issues[0]?.message ?? 'That makes no sense.';
    void keepFormat(next.data);
    return null;
  };
  const number = (text: string, least: number, most: number, make: (value: number) => Change, unit: RegExp, hint: string) => {
    const typed = typedNumber(text, unit);
    return set(typed === null || typed < least || typed > most ? hint : make(typed));
  };
  const { length, safe, loudness, sizes } = format;
  const nothing = (text: string) => /^\s*(none|any|-|–)?\s*$/i.test(text);
  return (
    <View className="rounded-2xl bg-raised px-4" testID={`own-${format.id}`}>
      <FigureField label="Name" testID="own-name" value={format.name} onSubmit={(name) => set(() => ({ name }))} />
      <FigureField
        label="Platform"
        testID="own-platform"
        value={format.platform || 'none'}
        onSubmit={(text) => set(() => ({ platform: nothing(text) ? '' : text }))}
      />
      <FigureField
        label="Longest"
        testID="own-longest"
        value={length.most === null ? 'any' : `${length.most} s`}
        onSubmit={(text) =>
          nothing(text)
            ? set((now) => ({ length: { ...now.length, most: null } }))
            : number(
                text,
                Math.max(0.1, length.least),
                86_400,
                (most) => (now) => ({ length: { ...now.length, most } }),
                /s$/i,
                `Seconds, from ${Math.max(0.1, length.least)} to a day; or “any”.`,
              )
        }
      />
      <FigureField
        label="Shortest"
        testID="own-shortest"
        value={`${length.least} s`}
        onSubmit={(text) =>
          number(
            text,
            0,
            length.most ?? 86_400,
            (least) => (now) => ({ length: { ...now.length, least } }),
            /s$/i,
            'Seconds, not more than the longest.',
          )
        }
      />
      <FigureField
        label="In parts of"
        testID="own-part"
        value={format.part === null ? 'none' : `${format.part} s`}
        onSubmit={(text) =>
          nothing(text)
            ? set(() => ({ part: null }))
            : number(text, 1, 86_400, (part) => () => ({ part }), /s$/i, 'Seconds, 1 and more; or “none”.')
        }
      />
      <FigureField
        label="File at most"
        testID="own-bytes"
        value={format.bytes === null ? 'any' : `${format.bytes / 1e6} MB`}
        onSubmit={(text) =>
          nothing(text)
            ? set(() => ({ bytes: null }))
            : number(text, 0.01, 1e6, (mb) => () => ({ bytes: Math.round(mb * 1e6) }), /mb$/i, 'Megabytes; or “any”.')
        }
      />
      {sizes.length > 0 ? (
        <FigureField
          label="Sizes"
          testID="own-sizes"
          value={sizes.map(({ width, height }) => `${width}×${height}`).join(', ')}
          onSubmit={(text) => set(readSizes(text))}
        />
      ) : null}
      {sizes.length > 0
        ? (['left', 'top', 'right', 'bottom'] as const).map((edge) => (
            <FigureField
              key={edge}
              label={`Kept free ${edge === 'top' || edge === 'bottom' ? `at the ${edge}` : `on the ${edge}`}`}
              testID={`own-${edge}`}
              value={`${Math.round(safe[edge] * 1000) / 10} %`}
              onSubmit={(text) =>
                number(
                  text,
                  0,
                  45,
                  (percent) => (now) => ({ safe: { ...now.safe, [edge]: percent / 100 } }),
                  /%/,
                  'A share of the frame, up to 45 %.',
                )
              }
            />
          ))
        : null}
      {sizes.length > 0 ? (
        <Choosing<Captions>
          name="Captions"
          value={format.captions}
          ids={Captions.options}
          say={(one) => CAPTIONS_SAY[one]}
          onChange={(captions) => set(() => ({ captions }))}
        />
      ) : null}
      <FigureField
        label="Loudness"
        testID="own-loudness"
        value={loudness ? `${String(loudness.target).replace('-', '−')} LUFS` : 'any'}
        onSubmit={(text) =>
          nothing(text)
            ? set(() => ({ loudness: null }))
            : number(
                text,
                -40,
                -5,
                (target) => (now) => ({ loudness: { within: 2, peak: -1, ...now.loudness, target } }),
                /lufs$/i,
                'Between −40 and −5 LUFS; or “any”.',
              )
        }
      />
    </View>
  );
}

/** "1080×1920, 720×1280" */
function readSizes(text: string): Change {
  const sizes = text.split(/[,;]/).map((one) => /^\s*(\d+)\s*[x×]\s*(\d+)\s*$/.exec(one));
  const even = (n: string | undefined) => Math.round(Number(n) / 2) * 2;
  if (sizes.some((one) => !one)) return 'Sizes like 1080×1920, with a comma between two.';
  const read = sizes.map((one) => ({ width: even(one?.[1]), height: even(one?.[2]) }));
  const [first] = read;
  if (first && read.some((one) => !sameShape(one, first))) return 'All sizes of a format have one shape.';
  return () => ({ sizes: read.sort((a, b) => b.width - a.width) });
}
