import Info from 'lucide-react-native/icons/info';
import X from 'lucide-react-native/icons/x';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { z } from 'zod';
import { IconButton } from '../look/Button';
import { Text } from '../look/Text';
import { kept } from '../open/kept';

const { use: useKnown, set: setKnown } = kept('flimzy.approximate', z.object({ known: z.boolean().default(false) }));

/** Says that this browser's preview is approximate, and why. Read once, it is a mark at the corner of the picture that says it again. */
export function Approximate() {
  const known = useKnown((s) => s.known);
  const [asked, setAsked] = useState(false);
  const putAway = () => {
    setKnown({ known: true });
    setAsked(false);
  };
  if (known && !asked)
    return (
      <Pressable
        accessibilityRole="button"
        accessibilityLabel="The preview is approximate: why"
        onPress={() => setAsked(true)}
        testID="approximate"
        className="absolute left-0 top-0 min-h-[44px] min-w-[44px] items-start p-2"
      >
        <View className="rounded-full bg-panel/90 p-1">
          <Info size={14} color="var(--c-ink)" strokeWidth={2} />
        </View>
      </Pressable>
    );
  const without = globalThis.isSecureContext ? '' : ' without HTTPS (HTTPS=own npm start)';
  return (
    <View accessibilityRole="alert" className="absolute inset-x-2 top-2 rounded-xl bg-panel/90 py-2 pl-3 pr-8">
      <Text kind="small" className="text-ink">
        This browser cannot decode video frame by frame{without}: the preview is approximate, exports are exact.
      </Text>
      <View className="absolute -right-1 -top-1">
        <IconButton label="Put this away" icon={X} size={16} onPress={putAway} testID="approximate-known" />
      </View>
    </View>
  );
}
