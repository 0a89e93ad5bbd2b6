import { BLEND_LENGTH, type EditName, type EditParams } from '@flimzy/core/edits';
import { clipEnd, seamAt, seamsOf, type Piece, type Seam } from '@flimzy/core/piece';
import { valueOf } from '@flimzy/core/properties';
import { formatSigned, formatTimecode, frameLength, parseSigned, parseTimecode, toGrid } from '@flimzy/core/time';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import Repeat from 'lucide-react-native/icons/repeat';
import Square from 'lucide-react-native/icons/square';
import { useState } from 'react';
import { useWindowDimensions, View } from 'react-native';
import { edit, moveTo, stopTrying, tryEdit, useEditor, usePiece } from '../open/editor';
import { closePanel, openPanel, usePanel } from '../open/panels';
import { Button, IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { FigureField } from '../look/Field';
import { FigureOf } from '../look/FigureOf';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { useWide } from '../look/useWide';
import { Wheel } from '../look/Wheel';
import { useLoop } from '../open/loop';
import { Frames, LoopPicture } from './SeamFrames';
import { SeamSound } from './SeamSound';

/** Height of the two large frames at most, in pixels: so that sound and wheel stay in view with them. */
const TALLEST = 206;

/** What the wheel turns. */
const TURNS = [
  { id: 'join', name: 'Join' },
  { id: 'end', name: 'Leaves' },
  { id: 'start', name: 'Enters' },
  { id: 'sound', name: 'Sound' },
] as const;
type Turn = (typeof TURNS)[number]['id'];

const SAYS: Record<Turn, string> = {
  join: 'The join moves; nothing else does.',
  end: 'Which frame leaves: the rest follows.',
  start: 'Which frame enters: the rest follows.',
  sound: 'Where the sound changes hands; no picture moves.',
};

/** The edit that turning by some frames means. */
function turned(seam: Seam, turn: Turn, by: number): { [N in EditName]: [N, EditParams<N>] }['roll' | 'trim' | 'soundEdge'] {
  const { before, after, join } = seam;
  const { reach } = useEditor.getState();
  if (turn === 'join') return ['roll', { clip: after.id, to: Math.max(0, join + by) }];
  if (turn === 'end')
    return ['trim', { clip: before.id, edge: 'tail', to: Math.max(0, clipEnd(before) + by), rest: 'follow', tracks: reach }];
  if (turn === 'start') return ['trim', { clip: after.id, edge: 'head', to: after.start + by, rest: 'follow', tracks: reach }];
  return ['soundEdge', { clip: after.id, edge: 'head', to: (seam.handOver ?? join) + by }];
}

/** The magnified editor of one seam: both frames large, what is left on either side, and the join in a loop while it is changed. */
export function SeamPanel() {
  const id = usePanel((s) => (s.panel?.name === 'seam' ? s.panel.clip : null));
  const piece = usePiece();
  const seam = piece && id !== null ? seamAt(piece, id) : null;
  if (id === null || !piece) return null;
  if (!seam)
    return (
      <Sheet title="Seam" open onClose={closePanel}>
        <Text kind="note">The two clips do not touch any more.</Text>
      </Sheet>
    );
  return <Open piece={piece} seam={seam} />;
}

function Open({ piece, seam }: { piece: Piece; seam: Seam }) {
  const { width: screen } = useWindowDimensions();
  const [turn, setTurn] = useState<Turn>('join');
  const [refused, setRefused] = useState<string | null>(null);
  const loop = useLoop(seam.join);
  const frame = frameLength(piece.format.rate);
  const wide = useWide();
  const whole = wide ? Math.min(screen, 1120) - 42 : Math.min(screen, 560) - 40;
  const right = wide ? 400 : whole;
  const left = wide ? whole - right - 24 : whole;
  const seams = seamsOf(seam.track);
  const index = seams.findIndex((clip) => clip.id === seam.after.id);
  const go = (by: number) => {
    const next = seams[index + by];
    if (!next) return;
    loop.stop();
    moveTo(next.start);
    openPanel({ name: 'seam', clip: next.id });
  };
  const close = () => {
    loop.stop();
    stopTrying();
    closePanel();
    moveTo(seam.join);
  };
  const attempt = (frames: number) => {
    if (frames === 0) {
      setRefused(null);
      return stopTrying();
    }
    const [name, params] = turned(seamNow(piece, seam), turn, frames * frame);
    const draft = tryEdit(name, params, () => null);
    setRefused(typeof draft === 'string' ? draft : null);
  };
  const make = (frames: number) => {
    stopTrying();
    setRefused(null);
    const [name, params] = turned(seamNow(piece, seam), turn, frames * frame);
    if (edit(name, params)) loop.again();
  };
  const sound = (to: number) => toGrid(to, piece.format.rate);
  const controls = (
    <View className="gap-2">
      <Choice label="What the wheel turns" value={turn} options={TURNS} onChange={setTurn} />
      <Text kind="small" className={refused ? 'text-warn' : ''}>
        {refused ?? SAYS[turn]}
      </Text>
      <Wheel label={`Turn: ${SAYS[turn]}`} onTurn={attempt} onDone={make} testID="wheel" />
      <View className="flex-row items-center justify-between">
        <IconButton label="The seam before" icon={ChevronLeft} onPress={() => go(-1)} disabled={index <= 0} testID="seam-prev" />
        <Button
          label={loop.on ? 'Stop' : 'Loop the join'}
          icon={loop.on ? Square : Repeat}
          kind={loop.on ? 'plain' : 'main'}
          onPress={loop.toggle}
          testID="seam-loop"
        />
        <Button
          label="Transition"
          onPress={() => {
            close();
            openPanel({ name: 'transition', clip: seam.after.id, end: false });
          }}
          testID="seam-transition"
        />
        <IconButton
          label="The next seam"
          icon={ChevronRight}
          onPress={() => go(1)}
          disabled={index >= seams.length - 1}
          testID="seam-next"
        />
      </View>
    </View>
  );
  const pictures = loop.on ? (
    <LoopPicture piece={piece} width={left} tallest={wide ? 560 : 330} />
  ) : (
    <Frames
      piece={piece}
      seam={seam}
      width={left}
      stacked={wide && piece.format.width > piece.format.height}
      tallest={wide ? 440 : TALLEST}
    />
  );
  const sounds = (
    <SeamSound
      piece={piece}
      seam={seam}
      width={right}
      onTurn={(to) => {
        const draft = tryEdit('soundEdge', { clip: seam.after.id, edge: 'head', to: sound(to) }, () => null);
        setRefused(typeof draft === 'string' ? draft : null);
      }}
      onDone={(to) => {
        stopTrying();
        setRefused(null);
        if (edit('soundEdge', { clip: seam.after.id, edge: 'head', to: sound(to) })) loop.again();
      }}
    />
  );
  const shared = { title: `Seam ${index + 1} of ${seams.length}`, open: true, onClose: close, full: true, testID: 'seam-sheet' } as const;
  if (wide)
    return (
      <Sheet {...shared} broad>
        <View className="flex-row gap-6">
          <View style={{ width: left }}>{pictures}</View>
          <View className="gap-4" style={{ width: right }}>
            {sounds}
            {controls}
            <Figures piece={piece} seam={seam} />
          </View>
        </View>
      </Sheet>
    );
  return (
    <Sheet {...shared} footer={controls}>
      <View className="gap-3">
        {pictures}
        {sounds}
        <Figures piece={piece} seam={seam} />
      </View>
    </Sheet>
  );
}

/** While the wheel turns, the seam drawn is the tried one; edits are asked for on the piece as it is. */
function seamNow(drawn: Piece, seam: Seam): Seam {
  const { session } = useEditor.getState();
  return (session && seamAt(session.current.piece, seam.after.id)) ?? seamAt(drawn, seam.after.id) ?? seam;
}

/** The seam in figures, each to be typed. */
function Figures({ piece, seam }: { piece: Piece; seam: Seam }) {
  const { rate } = piece.format;
  const blend = seam.after.blend ?? (seam.handOver === seam.join || seam.handOver === null ? 0 : BLEND_LENGTH);
  const soundTo = (text: string) => {
    const by = parseSigned(text, piece.format.rate);
    if (by === null) return 'Write how much earlier (−) or later, such as −0.10.';
    return edit('soundEdge', { clip: seam.after.id, edge: 'head', to: seam.join + by }) ? null : 'It cannot go there.';
  };
  const blendTo = (text: string) => {
    const ms = Number(text.replace(/ms/i, '').trim());
    if (!(ms >= 0 && ms <= 4000)) return 'Milliseconds, between 0 and 4000.';
    const to = seam.handOver ?? seam.join;
    return edit('soundEdge', { clip: seam.after.id, edge: 'head', to, blend: Math.round(ms * 705_600) }) ? null : 'It cannot be so long.';
  };
  const joinTo = (text: string) => {
    const to = parseTimecode(text, rate, seam.join);
    if (to === null || to < 0) return 'Write a time such as 0:04.12.';
    return edit('roll', { clip: seam.after.id, to }) ? null : 'It cannot go there.';
  };
  return (
    <View className="rounded-2xl bg-raised px-4">
      <FigureField label="Join at" value={formatTimecode(seam.join, rate)} onSubmit={joinTo} testID="seam-join" />
      {seam.handOver === null ? null : (
        <>
          <FigureField
            label="Sound changes hands"
            value={formatSigned(seam.handOver - seam.join, piece.format.rate)}
            onSubmit={soundTo}
            testID="seam-hand-over"
          />
          <FigureField label="Crossfade" value={`${Math.round(blend / 705_600)} ms`} onSubmit={blendTo} testID="seam-blend" />
          {blend > 0 ? (
            <FigureOf
              name="blendCurve"
              value={valueOf(seam.after, 'blendCurve')}
              set={(blendCurve) => edit('set', { clips: [seam.after.id], values: { blendCurve } })}
              testID="seam-blend-curve"
            />
          ) : null}
        </>
      )}
    </View>
  );
}
