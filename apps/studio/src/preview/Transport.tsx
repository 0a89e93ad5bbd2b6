import { sayTenths } from '@flimzy/core/properties';
import { formatTimecode, parseTimecode } from '@flimzy/core/time';
import { pieceLength } from '@flimzy/core/piece';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import ChevronsLeft from 'lucide-react-native/icons/chevron-first';
import ChevronsRight from 'lucide-react-native/icons/chevron-last';
import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import { useEffect, useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import type { LoudnessFigures } from '../open/engine';
import { currentPiece, moveTo, playedTo, step, togglePlay, useEditor, useFormat } from '../open/editor';
import { actionOf } from '../open/actions';
import { IconButton } from '../look/Button';
import { Text } from '../look/Text';
import { Lean } from './Lean';
import { say } from '../look/Toast';

/** Play and pause: round, and the warm colour while it is live. */
export function PlayButton({ size = 52 }: { size?: number }) {
  const playing = useEditor((s) => s.playing);
  const Glyph = playing ? Pause : Play;
  return (
    <Pressable
      accessibilityRole="button"
      accessibilityLabel={playing ? 'Pause' : 'Play'}
      testID="play"
      onPress={togglePlay}
      className={`items-center justify-center rounded-full active:opacity-80 ${playing ? 'bg-signal' : 'bg-raised'}`}
      style={{ width: size, height: size }}
    >
      <Glyph size={22} color={playing ? '#17191a' : 'var(--c-ink)'} strokeWidth={2.2} />
    </Pressable>
  );
}

/** The playhead's time: touch it to type a time to go to. */
export function Clock({ large = false }: { large?: boolean }) {
  const format = useFormat();
  const playhead = useEditor((s) => s.playhead);
  const [typed, setTyped] = useState<string | null>(null);
  if (!format) return null;
  const { rate } = format;
  const now = formatTimecode(playhead, rate);
  const go = () => {
    if (typed !== null && typed !== now) {
      const time = parseTimecode(typed, rate, playhead);
      if (time === null) say('Type a time as minutes:seconds.frames, such as 0:04.12.');
      else moveTo(time);
    }
    setTyped(null);
  };
  return (
    <TextInput
      accessibilityLabel="Time of the playhead; type a time to go to"
      testID="clock"
      value={typed ?? now}
      onFocus={() => setTyped(now)}
      onChangeText={setTyped}
      onBlur={go}
      onSubmitEditing={go}
      selectTextOnFocus
      className={`min-h-[44px] rounded-lg font-mono text-ink ${large ? 'w-[124px] text-[22px]' : 'w-[92px] text-[17px]'}`}
    />
  );
}

/** How one watches, where that is not plainly: at half or double speed, again and again. A touch takes it back. */
export function Watching() {
  const pace = useEditor((s) => s.pace);
  const looping = useEditor((s) => s.looping);
  const chips = [
    ...(pace === 1
      ? []
      : [{ id: pace < 1 ? 'watch-half' : 'watch-double', text: pace < 1 ? '½ ×' : '2 ×', label: 'Watch as fast as it is' }]),
    ...(looping ? [{ id: 'loop', text: '↻', label: 'Play once' }] : []),
  ];
  return chips.map(({ id, text, label }) => (
    <Pressable
      key={id}
      accessibilityRole="button"
      accessibilityLabel={label}
      testID={`now-${id}`}
      onPress={actionOf(id).run}
      className="min-h-[44px] min-w-[38px] items-center justify-center rounded-full active:bg-raised"
    >
      <Text kind="label">{text}</Text>
    </Pressable>
  ));
}

/** One frame back and on; to the start and to the end. */
export function Steps({ ends = false }: { ends?: boolean }) {
  const end = () => {
    const piece = currentPiece();
    if (piece) moveTo(pieceLength(piece));
  };
  return (
    <View className="flex-row">
      {ends ? <IconButton label="Go to start" icon={ChevronsLeft} onPress={() => moveTo(0)} testID="to-start" /> : null}
      <IconButton label="One frame back" icon={ChevronLeft} onPress={() => step(-1)} testID="frame-back" />
      <IconButton label="One frame on" icon={ChevronRight} onPress={() => step(1)} testID="frame-on" />
      {ends ? <IconButton label="Go to end" icon={ChevronsRight} onPress={end} testID="to-end" /> : null}
    </View>
  );
}

/** Loudness as it is played, while mixing: of the last three seconds, and of all since playing began, with its highest peak. */
export function LoudnessLine() {
  const mixing = useEditor((s) => s.mixing);
  const playing = useEditor((s) => s.playing);
  const [figures, setFigures] = useState<LoudnessFigures | null>(null);
  useEffect(() => {
    if (!mixing || !playing) return;
    const timer = setInterval(() => setFigures(useEditor.getState().engine?.loudness() ?? null), 250);
    return () => clearInterval(timer);
  }, [mixing, playing]);
  if (!mixing) return null;
  const say = (value: number | undefined) => (value === undefined || value < -70 ? '–' : sayTenths(value));
  return (
    <View testID="loudness" className="pb-2">
      <Text kind="small">Loudness, LUFS</Text>
      <Text kind="small" className="font-mono">
        3 s {say(figures?.shortTerm)} · all {say(figures?.integrated)}
      </Text>
      <Text kind="small" className={`font-mono ${figures && figures.peak > -1 ? 'text-warn' : ''}`}>
        peak {say(figures?.peak)} dBTP
      </Text>
      <Text kind="small" className="font-mono" testID="limiter-work">
        limiter {figures && figures.limited >= 0.05 ? `−${figures.limited.toFixed(1)} dB` : '–'}
      </Text>
      <Lean />
    </View>
  );
}

/** Keeps the playhead with the sound while playing. */
export function useFollowSound(): void {
  const playing = useEditor((s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    let turn = 0;
    const follow = () => {
      const { engine } = useEditor.getState();
      const now = engine?.now();
      if (now !== null && now !== undefined) playedTo(now);
      turn = requestAnimationFrame(follow);
    };
    turn = requestAnimationFrame(follow);
    return () => cancelAnimationFrame(turn);
  }, [playing]);
}
