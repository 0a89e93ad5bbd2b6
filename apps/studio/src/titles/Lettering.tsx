import { FONT_NAMES, FontId, weightName, type TextPart, type Weight } from '@flimzy/core/properties';
import { FAMILIES, familyName, fileOf, weightOf } from '@flimzy/stage';
import { ScrollView, Text as Plain, View } from 'react-native';
import { Choosable } from '../look/Choice';
import { useFonts } from '../material/useFonts';

/** One that letters can be drawn with: its name, and the file of its letters. */
interface Face<T> {
  id: T;
  name: string;
  file: string;
}

const FONTS: readonly Face<FontId>[] = FontId.options.map((font) => ({
  id: font,
  name: FONT_NAMES[font],
  file: fileOf(font, FAMILIES[font].bold),
}));

/** The family of a text and, where it has several, its weight: each shown in its own letters. */
export function Lettering({ part, set }: { part: TextPart; set: (change: Partial<TextPart>) => boolean }) {
  const { weights } = FAMILIES[part.font];
  const faces = weights.map((weight): Face<Weight> => ({ id: weight, name: weightName(weight), file: fileOf(part.font, weight) }));
  return (
    <>
      <Faces label="Font" called="font" faces={FONTS} chosen={part.font} choose={(font) => set({ font })} />
      {faces.length > 1 && (
        <Faces label="Weight" called="weight" faces={faces} chosen={weightOf(part)} choose={(weight) => set({ weight })} />
      )}
    </>
  );
}

interface FacesProps<T> {
  label: string;
  called: string;
  faces: readonly Face<T>[];
  chosen: T;
  choose: (face: T) => void;
}

function Faces<T extends string | number>({ label, called, faces, chosen, choose }: FacesProps<T>) {
  useFonts(faces.map(({ file }) => file));
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} accessibilityRole="radiogroup" accessibilityLabel={label}>
      <View className="flex-row gap-1.5">
        {faces.map(({ id, name, file }) => (
          <Choosable key={id} label={`${label}: ${name}`} chosen={id === chosen} onPress={() => choose(id)} testID={`${called}-${id}`}>
            <Plain
              className={id === chosen ? 'text-onpaper' : 'text-ink'}
              style={{ fontFamily: familyName(file), fontSize: 19, lineHeight: 28 }}
            >
              {name}
            </Plain>
          </Choosable>
        ))}
      </View>
    </ScrollView>
  );
}
