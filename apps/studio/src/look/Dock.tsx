import X from 'lucide-react-native/icons/x';
import type { ReactNode } from 'react';
import { ScrollView, useWindowDimensions, View } from 'react-native';
import { IconButton } from './Button';
import { useClose } from './escape';
import { Text } from './Text';
import { useWide } from './useWide';

interface DockProps {
  title: string;
  onClose: () => void;
  children: ReactNode;
  /** Stands under the scrolling part, always in reach. */
  footer?: ReactNode;
  testID?: string;
}

/**
 * A panel for work that needs the timeline in sight: it takes the lower part of a phone's screen, or stands over the left side of a
 * wide one, and everything beside it goes on as ever. Esc closes it.
 */
export function Dock({ title, onClose, children, footer, testID }: DockProps) {
  const { height } = useWindowDimensions();
  const wide = useWide();
  useClose(onClose);
  return (
    <View
      testID={testID}
      role="region"
      accessibilityLabel={title}
      className={`border-hairline bg-panel ${wide ? 'absolute bottom-0 left-0 top-0 border-r' : 'rounded-t-3xl border-t'}`}
      style={wide ? { width: 304 } : { height: Math.round(height * 0.42) }}
    >
      <View className={`flex-row items-center justify-between pb-1 pr-2 ${wide ? 'pl-4 pt-3' : 'pl-5 pt-1'}`}>
        <Text kind="heading" accessibilityRole="header" className="text-[17px]">
          {title}
        </Text>
        <IconButton label="Close" icon={X} onPress={onClose} />
      </View>
      <ScrollView className="min-h-0 flex-1" contentContainerClassName={wide ? 'px-4 pb-4' : 'px-5 pb-4'}>
        {children}
      </ScrollView>
      {footer ? <View className={`border-t border-hairline py-3 ${wide ? 'px-4' : 'px-5'}`}>{footer}</View> : null}
    </View>
  );
}
