import BottomSheet, { BottomSheetView, type BottomSheetBackdropProps, type BottomSheetBackgroundProps } from '@gorhom/bottom-sheet';
import X from 'lucide-react-native/icons/x';
import { useCallback, useLayoutEffect, useRef, type ReactNode } from 'react';
import { Modal, Pressable, ScrollView, useWindowDimensions, View } from 'react-native';
import { GestureHandlerRootView } from 'react-native-gesture-handler';
import Animated, { Extrapolation, interpolate, useAnimatedStyle } from 'react-native-reanimated';
import { IconButton } from './Button';
import { useEscape } from './escape';
import { useCounted } from './sheets';
import { Text } from './Text';
import { useWide } from './useWide';

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
  /** Takes the lower half of a phone at most, so that what it is about stays in sight. */
  low?: boolean;
  /** Takes most of the width of a wide screen too. */
  broad?: boolean;
  /** Not seen for a moment: something is dragged from it to what it covers. */
  away?: boolean;
  testID?: string;
}

/** A panel that comes up from the bottom on a phone and is pulled down again, and stands in the middle of a wide screen. Esc or a touch beside it closes it. */
export function Sheet(props: SheetProps) {
  const wide = useWide();
  useEscape(props.open, props.onClose);
  useCounted(props.open && !props.away && (wide || !props.low));
  if (wide) return <Standing {...props} />;
  return (
    <Modal visible={props.open} transparent animationType="none" onRequestClose={props.onClose} aria-label={props.title}>
      {props.open ? <FromBelow {...props} /> : null}
    </Modal>
  );
}

function Head({ title, onClose }: Pick<SheetProps, 'title' | 'onClose'>) {
  return (
    <View className="flex-row items-center justify-between pb-1 pl-5 pr-2 pt-3">
      <Text kind="heading" accessibilityRole="header" className="text-[19px]">
        {title}
      </Text>
      <IconButton label="Close" icon={X} onPress={onClose} />
    </View>
  );
}

/** How far down each sheet was read when it was closed, in pixels: it is opened there again. */
const places = new Map<string, number>();

function Body({ name, children, footer }: Pick<SheetProps, 'children' | 'footer'> & { name: string }) {
  const scroll = useRef<ScrollView>(null);
  useLayoutEffect(() => scroll.current?.scrollTo({ y: places.get(name) ?? 0, animated: false }), [name]);
  return (
    <>
      <ScrollView
        ref={scroll}
        className="shrink"
        contentContainerClassName="px-5 pb-5 pt-1"
        scrollEventThrottle={100}
        onScroll={(event) => places.set(name, event.nativeEvent.contentOffset.y)}
      >
        {children}
      </ScrollView>
      {footer ? <View className="border-t border-hairline px-5 py-3">{footer}</View> : null}
    </>
  );
}

function Standing({ title, open, onClose, children, footer, tall, full, broad, away, testID }: SheetProps) {
  const { height } = useWindowDimensions();
  return (
    <Modal visible={open} transparent animationType="fade" onRequestClose={onClose} aria-label={title}>
      <View style={away ? { opacity: 0 } : undefined} className="flex-1 items-center justify-center">
        <Pressable aria-hidden onPress={onClose} className="absolute inset-0 bg-black/50" focusable={false} />
        <View
          testID={testID}
          className={`w-full overflow-hidden rounded-3xl border border-hairline bg-panel ${broad ? 'max-w-[1120px]' : 'max-w-[560px]'}`}
          style={{ maxHeight: height * (full ? 0.95 : 0.86), ...(full ? { height: height * 0.95 } : tall ? { height: height * 0.7 } : {}) }}
        >
          <Head title={title} onClose={onClose} />
          <Body name={testID ?? title} footer={footer}>
            {children}
          </Body>
        </View>
      </View>
    </Modal>
  );
}

/** Pixels that the handle and the title take. */
const HEAD = 66;

function FromBelow({ title, onClose, children, footer, tall, full, low, away, testID }: SheetProps) {
  const { height } = useWindowDimensions();
  const most = height * (full ? 0.95 : low ? 0.5 : 0.86);
  const fixed = full ? most : tall ? Math.min(most, height * 0.82) : null;
  // The part that is pulled: a handle, and all of the line with the title.
  const close = useRef(onClose);
  useLayoutEffect(() => {
    close.current = onClose;
  });
  const handle = useCallback(
    () => (
      <View testID="sheet-handle" style={{ height: HEAD, touchAction: 'none', cursor: 'grab' } as object}>
        <View className="mt-2 h-1 w-10 self-center rounded-full bg-hairline" />
        <Head title={title} onClose={() => close.current()} />
      </View>
    ),
    [title],
  );
  return (
    <GestureHandlerRootView style={{ flex: 1, opacity: away ? 0 : 1 }}>
      <Pressable aria-hidden focusable={false} onPress={onClose} className="absolute inset-0" />
      <BottomSheet
        onClose={onClose}
        enablePanDownToClose
        enableContentPanningGesture={false}
        // Room kept below for pulling it up too far could be scrolled to by whatever gets the focus.
        enableOverDrag={false}
        overDragResistanceFactor={0}
        enableDynamicSizing={fixed === null}
        maxDynamicContentSize={most}
        {...(fixed === null ? {} : { snapPoints: [fixed] })}
        accessibilityRole="none"
        accessibilityLabel=""
        handleComponent={handle}
        backdropComponent={Behind}
        backgroundComponent={Ground}
      >
        <BottomSheetView>
          <View testID={testID} style={fixed === null ? { maxHeight: most - HEAD } : { height: fixed - HEAD }}>
            <Body name={testID ?? title} footer={footer}>
              {children}
            </Body>
          </View>
        </BottomSheetView>
      </BottomSheet>
    </GestureHandlerRootView>
  );
}

const Ground = ({ style }: BottomSheetBackgroundProps) => (
  <View style={[style, { pointerEvents: 'none' }]} className="rounded-t-3xl border-t border-hairline bg-panel" />
);

/** The dark over what the sheet covers goes as the sheet is pulled down. */
function Behind({ animatedIndex, style }: BottomSheetBackdropProps) {
  const fade = useAnimatedStyle(() => ({ opacity: interpolate(animatedIndex.value, [-1, 0], [0, 1], Extrapolation.CLAMP) }));
  return <Animated.View style={[style, { backgroundColor: 'rgba(0,0,0,0.5)', pointerEvents: 'none' }, fade]} />;
}
