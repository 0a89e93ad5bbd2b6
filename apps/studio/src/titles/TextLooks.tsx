import { TEXT_LARGEST, type TextPart } from '@flimzy/core/properties';
import Capitals from 'lucide-react-native/icons/case-upper';
import Centre from 'lucide-react-native/icons/text-align-center';
import Left from 'lucide-react-native/icons/text-align-start';
import Right from 'lucide-react-native/icons/text-align-end';
import { View } from 'react-native';
import { IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { Colours } from '../look/Colours';
import { Behind } from './Behind';
import { Figures, PLACE, type Figure } from './Figures';
import { Lettering } from './Lettering';

type Set = (change: Partial<TextPart>) => boolean;

const ALIGNS = [
  { id: 'left', name: 'Left', icon: Left },
  { id: 'centre', name: 'Middle', icon: Centre },
  { id: 'right', name: 'Right', icon: Right },
] as const;

const FIGURES: readonly Figure<TextPart>[] = [
  { name: 'size', label: 'Size', least: 0.01, most: TEXT_LARGEST, step: 0.005, digits: 1 },
  { name: 'width', label: 'Line width', least: 0.05, most: 2, step: 0.02 },
  { name: 'leading', label: 'Between lines', least: 0.5, most: 3, step: 0.05 },
  { name: 'spacing', label: 'Between letters', least: -0.2, most: 1, step: 0.01 },
  ...PLACE,
];

/** How a text of a title looks. */
export function TextLooks({ part, set, near }: { part: TextPart; set: Set; near: readonly string[] }) {
  return (
    <View className="gap-3">
      <Lettering part={part} set={set} />
      <View className="flex-row">
        {ALIGNS.map(({ id, name, icon }) => (
          <View key={id} className="flex-1">
            <IconButton
              icon={icon}
              label={`Lines begin and end: ${name}`}
              caption={name}
              active={part.align === id}
              onPress={() => set({ align: id, x: id === 'left' ? 0.1 : id === 'right' ? 0.9 : 0.5 })}
              testID={`align-${id}`}
            />
          </View>
        ))}
        <View className="flex-1">
          <IconButton
            icon={Capitals}
            label="All in capitals"
            caption="Capitals"
            active={part.capitals}
            onPress={() => set({ capitals: !part.capitals })}
            testID="title-capitals"
          />
        </View>
      </View>
      <Colours label="Colour" value={part.colour} onChange={(colour) => set({ colour })} near={near} testID="title-colour" />
      <Figures of={part} figures={FIGURES} set={set} called="title" />
      <Choice
        label="The words come"
        value={part.pace}
        options={[
          { id: 'whole', name: 'All at once' },
          { id: 'words', name: 'One word after the other' },
        ]}
        onChange={(pace) => set({ pace })}
      />
      <Behind part={part} set={set} near={near} />
    </View>
  );
}
