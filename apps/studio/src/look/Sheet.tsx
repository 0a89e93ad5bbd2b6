import X from 'lucide-react-native/icons/x';
import type { ReactNode } from 'react';
import { Modal, Pressable, ScrollView, useWindowDimensions, View } from 'react-native';
import { IconButton } from './Button';
import { useEscape } from './escape';
import { Text } from './Text';

interface SheetProps {
  title: string;
  open: boolean;
  onClose: () => void;
  children: ReactNode;
  /** Stands under the scrolling part, always in reach. */
  footer?: ReactNode;
  /** Takes most of the height even with little in it. */
  tall?: boolean;
  /** Takes nearly all of it: for work that needs the room. */
  full?: boolean;
  /** Takes most of the width of a wide screen too. */
  broad?: boolean;
  /** Not seen for a moment: something is dragged from it to what it covers. */
  away?: boolean;
  testID?: string;
}

/** A panel that comes up from the bottom on a phone, and stands in the middle of a wide screen. Esc or a touch beside it closes it. */
export function Sheet({
  title,
  open,
  onClose,
  children,
  footer,
  tall = false,
  full = false,
  broad = false,
  away = false,
  testID,
}: SheetProps) {
  const { width, height } = useWindowDimensions();
  const wide = width >= 900;
  useEscape(open, onClose);
  return (
    <Modal visible={open} transparent animationType={wide ? 'fade' : 'slide'} onRequestClose={onClose} aria-label={title}>
      <View style={away ? { opacity: 0 } : undefined} className={`flex-1 ${wide ? 'items-center justify-center' : 'justify-end'}`}>
        <Pressable aria-hidden onPress={onClose} className="absolute inset-0 bg-black/50" focusable={false} testID="beside" />
        <View
          testID={testID}
          className={`w-full overflow-hidden border-hairline bg-panel ${wide ? `${broad ? 'max-w-[1120px]' : 'max-w-[560px]'} rounded-3xl border` : 'rounded-t-3xl border-t'}`}
          style={{
            maxHeight: height * (full ? 0.95 : 0.86),
            ...(full ? { height: height * 0.95 } : tall ? { height: height * (wide ? 0.7 : 0.82) } : {}),
          }}
        >
          <View className="flex-row items-center justify-between pb-1 pl-5 pr-2 pt-3">
            <Text kind="heading" accessibilityRole="header" className="text-[19px]">
              {title}
            </Text>
            <IconButton label="Close" icon={X} onPress={onClose} />
          </View>
          <ScrollView className="shrink" contentContainerClassName="px-5 pb-5 pt-1">
            {children}
          </ScrollView>
          {footer ? <View className="border-t border-hairline px-5 py-3">{footer}</View> : null}
        </View>
      </View>
    </Modal>
  );
}
