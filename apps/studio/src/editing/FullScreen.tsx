import { pieceLength } from '@flimzy/core/piece';
import { formatTimecode, frameLength } from '@flimzy/core/time';
import X from 'lucide-react-native/icons/x';
import { createElement, useEffect, useRef } from 'react';
import { Pressable, useWindowDimensions, View } from 'react-native';
import { IconButton } from '../look/Button';
import { useClose } from '../look/escape';
import { Text } from '../look/Text';
import { moveTo, pause, togglePlay, useEditor, useFormat, usePiece } from '../open/editor';
import { closePanel, usePanel } from '../open/panels';
import { PlayButton, Watching } from '../preview/Transport';

/** The picture alone, as large as the screen, which turns with the device. A touch plays and pauses; what is needed shows while it stands. */
export function FullScreen() {
  const open = usePanel((s) => s.panel?.name === 'full-screen');
  const format = useFormat();
  if (!open || !format) return null;
  return <Open ratio={format.width / format.height} />;
}

/** Has the browser's own bars go away, where it can, for as long as this is there; when they come back, it is over. */
function useWholeScreen(): void {
  useEffect(() => {
    const root = document.documentElement;
    let had = false;
    const changed = () => {
      if (document.fullscreenElement) had = true;
      else if (had) closePanel();
    };
    document.addEventListener('fullscreenchange', changed);
    // Some phones have it for no page: it fills the window then.
    void root.requestFullscreen?.().catch(() => undefined);
    return () => {
      document.removeEventListener('fullscreenchange', changed);
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
    };
  }, []);
}

function Open({ ratio }: { ratio: number }) {
  const window = useWindowDimensions();
  const playing = useEditor((s) => s.playing);
  const host = useRef<View>(null);
  useWholeScreen();
  useClose(closePanel);
  useEffect(() => {
    const node: unknown = host.current;
    useEditor.setState({ borrowed: node instanceof HTMLElement ? node : null });
    return () => useEditor.setState({ borrowed: null });
  }, []);
  const width = Math.floor(Math.min(window.width, window.height * ratio));
  return (
    <div
      className="dark-room"
      data-testid="full-screen"
      role="dialog"
      aria-label="The picture on the whole screen"
      style={{ position: 'fixed', inset: 0, zIndex: 50, background: '#000' }}
    >
      <Pressable
        accessibilityRole="button"
        accessibilityLabel={playing ? 'Touch to pause' : 'Touch to play'}
        onPress={togglePlay}
        testID="full-picture"
        style={{ position: 'absolute', top: 0, left: 0, right: 0, bottom: 0, alignItems: 'center', justifyContent: 'center' }}
      >
        <View ref={host} style={{ width, height: Math.floor(width / ratio) }} />
      </Pressable>
      {playing ? null : <Controls />}
    </div>
  );
}

/** What is needed while the picture stands: out again, on, and to another moment. */
function Controls() {
  const piece = usePiece();
  const playhead = useEditor((s) => s.playhead);
  if (!piece) return null;
  const { rate } = piece.format;
  return (
    <>
      <View className="absolute right-2 top-2 rounded-full bg-ground/70">
        <IconButton label="Back to the timeline" icon={X} onPress={closePanel} testID="full-close" />
      </View>
      <View className="absolute inset-x-2 bottom-3 flex-row items-center gap-3 rounded-3xl bg-ground/70 px-3 py-1.5">
        <PlayButton size={44} />
        <Text kind="small" className="font-mono text-ink" testID="full-time">
          {formatTimecode(playhead, rate)}
        </Text>
        <View className="min-w-0 flex-1">
          {createElement('input', {
            type: 'range',
            min: 0,
            max: Math.max(1, pieceLength(piece)),
            step: frameLength(rate),
            value: playhead,
            'aria-label': 'Moment of the piece',
            'data-testid': 'full-scrub',
            onChange: (event: { target: { value: string } }) => {
              pause();
              moveTo(Number(event.target.value));
            },
            style: { width: '100%', height: 44, margin: 0, accentColor: 'var(--c-ink)', touchAction: 'none', cursor: 'pointer' },
          })}
        </View>
        <Watching />
      </View>
    </>
  );
}
