import { zodResolver } from '@hookform/resolvers/zod';
import { PieceName, SHAPES, type ShapeId } from '@flimzy/core/piece';
import { RATES, rateName } from '@flimzy/core/time';
import { useRouter } from 'expo-router';
import PackageOpen from 'lucide-react-native/icons/package-open';
import { Controller, useForm } from 'react-hook-form';
import { Pressable, View } from 'react-native';
import { z } from 'zod';
import { call } from '../api/client';
import { KEYS, putInto } from '../api/queries';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { TextField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { say } from '../look/Toast';
import { chooseArchive } from './Arrivals';

const Form = z.object({ name: PieceName, shape: z.enum(['vertical', 'portrait', 'square', 'landscape']), rate: z.string() });
type Form = z.infer<typeof Form>;

/** "Same as the clips": the rate is taken from the first clips added. */
const FROM_CLIPS = 'clips';
const RATE_CHOICES = [
  { id: FROM_CLIPS, name: 'Same as my clips' },
  ...RATES.map((rate) => ({ id: `${rate.num}/${rate.den}`, name: rateName(rate) })),
];

/** Decides the shape: the first thing about a piece. */
export function NewPieceSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const router = useRouter();
  const { control, handleSubmit, reset, formState } = useForm<Form>({
    resolver: zodResolver(Form),
    defaultValues: { name: 'Untitled piece', shape: 'vertical', rate: FROM_CLIPS },
  });
  const make = handleSubmit(async ({ name, shape, rate }) => {
    const { width, height } = SHAPES.find((s) => s.id === shape) ?? SHAPES[0];
    const chosen = RATES.find((r) => `${r.num}/${r.den}` === rate);
    try {
      const piece = await call('newPiece', {
        body: { name, format: { width, height, rate: chosen ?? { num: 30, den: 1 } }, rateChosen: chosen !== undefined },
      });
      putInto(KEYS.pieces, piece);
      reset();
      onClose();
      router.push({ pathname: '/piece/[id]', params: { id: piece.id } });
    } catch (error) {
      say(error instanceof Error ? error.message : 'The piece could not be made.');
    }
  });
  return (
    <Sheet
      title="New piece"
      open={open}
      onClose={onClose}
      testID="new-piece"
      footer={<Button label="Make it" kind="main" onPress={() => void make()} disabled={formState.isSubmitting} testID="make-piece" />}
    >
      <View className="gap-5">
        <Controller
          control={control}
          name="name"
          render={({ field, fieldState }) => (
            <TextField label="Name" value={field.value} onChange={field.onChange} error={fieldState.error?.message} testID="piece-name" />
          )}
        />
        <View className="gap-1.5">
          <Text kind="label">Shape</Text>
          <Controller control={control} name="shape" render={({ field }) => <Shapes value={field.value} onChange={field.onChange} />} />
        </View>
        <View className="gap-1.5">
          <Text kind="label">Frame rate</Text>
          <Controller
            control={control}
            name="rate"
            render={({ field }) => <Choice label="Frame rate" value={field.value} options={RATE_CHOICES} onChange={field.onChange} />}
          />
        </View>
        <Button
          label="Or bring one in from its archive"
          icon={PackageOpen}
          kind="quiet"
          onPress={() => chooseArchive(onClose)}
          testID="bring-archive"
        />
      </View>
    </Sheet>
  );
}

function Shapes({ value, onChange }: { value: ShapeId; onChange: (shape: ShapeId) => void }) {
  return (
    <View accessibilityRole="radiogroup" accessibilityLabel="Shape" className="flex-row gap-2">
      {SHAPES.map((shape) => {
        const chosen = shape.id === value;
        const scale = 46 / Math.max(shape.width, shape.height);
        return (
          <Pressable
            key={shape.id}
            accessibilityRole="radio"
            aria-checked={chosen}
            accessibilityLabel={`${shape.name} ${shape.ratio}`}
            testID={`shape-${shape.id}`}
            onPress={() => onChange(shape.id)}
            className={`flex-1 items-center gap-2 rounded-2xl border py-3 ${chosen ? 'border-paper bg-raised' : 'border-hairline'}`}
          >
            <View className="h-[50px] items-center justify-center">
              <View
                className={`rounded-[5px] ${chosen ? 'bg-paper' : 'bg-hairline'}`}
                style={{ width: shape.width * scale, height: shape.height * scale }}
              />
            </View>
            <View className="items-center">
              <Text kind="label">{shape.name}</Text>
              <Text kind="small" className="font-mono">
                {shape.ratio}
              </Text>
            </View>
          </Pressable>
        );
      })}
    </View>
  );
}
