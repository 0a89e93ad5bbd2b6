import { useEffect } from 'react';
import { createPortal } from 'react-dom';
import { Pressable, View } from 'react-native';
import { create } from 'zustand';
import { Button } from './Button';
import { useSheets } from './sheets';
import { Text } from './Text';
import { useWide } from './useWide';

interface Notice {
  id: number;
  text: string;
  action?: { label: string; run: () => void };
}

const useNotice = create<{ notice: Notice | null }>(() => ({ notice: null }));
let count = 0;

/** Says something for a few seconds, with one thing to do about it at most. */
export function say(text: string, action?: Notice['action']): void {
  useNotice.setState({ notice: { id: (count += 1), text, ...(action ? { action } : {}) } });
}

/** Says why something could not be done. */
export const sayWhy = (error: Error): void => say(error.message);

/** Over sheets too, which the page stacks from 9999 on. */
const ABOVE = { position: 'fixed', inset: 0, zIndex: 10_000, pointerEvents: 'none' } as const;

/**
 * Where notices appear: above what the thumb uses, never over the picture (over the end of the timeline, where one looks least); over a
 * sheet, whose buttons are below, at the top of the screen. A touch puts one away before its time.
 */
export function Notices() {
  const notice = useNotice((s) => s.notice);
  const over = useSheets((s) => s.open > 0);
  const wide = useWide();
  useEffect(() => {
    if (!notice) return;
    const timer = setTimeout(
      () => useNotice.setState((s) => (s.notice?.id === notice.id ? { notice: null } : s)),
      notice.action ? 12_000 : 6_000,
    );
    return () => clearTimeout(timer);
  }, [notice]);
  if (!notice) return null;
  return createPortal(
    <div style={ABOVE}>
      <View
        pointerEvents="box-none"
        className={`absolute inset-x-0 px-4 ${over ? 'top-2 items-center' : `bottom-[92px] ${wide ? 'items-end' : 'items-center'}`}`}
      >
        <Pressable
          focusable={false}
          onPress={() => useNotice.setState({ notice: null })}
          accessibilityLiveRegion="polite"
          role="status"
          className="max-w-[460px] flex-row items-center gap-3 rounded-2xl border border-hairline bg-raised py-2 pl-4 pr-3"
        >
          <Text kind="label" className="min-h-[28px] shrink py-1.5">
            {notice.text}
          </Text>
          {notice.action ? (
            <Button
              label={notice.action.label}
              kind="main"
              onPress={() => {
                notice.action?.run();
                useNotice.setState({ notice: null });
              }}
            />
          ) : null}
        </Pressable>
      </View>
    </div>,
    document.body,
  );
}
