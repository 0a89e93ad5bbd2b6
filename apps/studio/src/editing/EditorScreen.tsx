import { useRouter } from 'expo-router';
import ArrowLeft from 'lucide-react-native/icons/arrow-left';
import Clock3 from 'lucide-react-native/icons/clock-3';
import Redo from 'lucide-react-native/icons/redo-2';
import Undo from 'lucide-react-native/icons/undo-2';
import { useState } from 'react';
import { ScrollView, useWindowDimensions, View } from 'react-native';
import { Button, IconButton } from '../look/Button';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { useWide } from '../look/useWide';
import { Handles } from '../framing/Handles';
import { Preview } from '../preview/Preview';
import { Meter } from '../preview/Meter';
import { Clock, LoudnessLine, PlayButton, Steps, useFollowSound, Watching } from '../preview/Transport';
import { HeadLength } from '../send/LengthMeter';
import { SendSheet } from '../send/SendSheet';
import { AddBar } from '../shelf/AddBar';
import { Shelf } from '../shelf/Shelf';
import { ShelfDrag, useShelfDrag } from '../shelf/ShelfDrag';
import { Timeline } from '../timeline/Timeline';
import { ActionBar } from './ActionBar';
import { Card } from './Card';
import { Divider } from './Divider';
import { redo, undo, useEditor, useFormat, useIsEmpty, useWhole } from '../open/editor';
import { useKeys } from '../open/keys';
import { leaveNest } from '../open/nests';
import { Panels } from './Panels';
import { closePanel, openPanel, usePanel } from '../open/panels';
import { Docked, useDocked } from './Docked';
import { useLeftTakes } from './useLeftTakes';
import { useHearings } from './useHearings';

/** The editor: on a phone picture beside (vertical) or above (landscape) the timeline; on a wide screen all at once. */
export function EditorScreen() {
  const format = useFormat();
  const failed = useEditor((s) => s.failed);
  const wide = useWide();
  const router = useRouter();
  useKeys();
  useFollowSound();
  useHearings();
  useLeftTakes();
  if (failed)
    return (
      <View className="flex-1 items-center justify-center gap-4 bg-ground px-8">
        <Text className="text-center">{failed}</Text>
        <Button label="Back to the pieces" onPress={() => router.replace('/')} />
      </View>
    );
  if (!format)
    return (
      <View className="flex-1 items-center justify-center bg-ground">
        <Text kind="note">Opening …</Text>
      </View>
    );
  return (
    <>
      {wide ? <Wide /> : <Phone ratio={format.width / format.height} />}
      <Panels />
    </>
  );
}

function Header({ onSend }: { onSend: () => void }) {
  const piece = useWhole();
  const inside = useEditor((s) => s.inside);
  const router = useRouter();
  const canUndo = useEditor((s) => s.session?.current.undo.at(-1)?.title);
  const canRedo = useEditor((s) => s.session?.current.redo.at(-1)?.title);
  const unsent = useEditor((s) => s.session?.pending.length ?? 0);
  return (
    <View className="flex-row items-center gap-0.5 px-1.5 py-1.5">
      <IconButton
        label={inside === null ? 'Back to the pieces' : 'Back out of the nest'}
        icon={ArrowLeft}
        onPress={() => (inside !== null ? leaveNest() : router.canGoBack() ? router.back() : router.replace('/'))}
        testID="back"
      />
      <View className="min-w-0 flex-1 pl-1">
        <Text kind="heading" numberOfLines={1} accessibilityRole="header" testID="piece-title">
          {inside === null ? piece?.name : `${piece?.name} › ${piece?.nests?.[inside]?.name ?? ''}`}
        </Text>
        <View className="flex-row gap-2">
          <HeadLength onPress={onSend} />
          {unsent > 0 ? <Text kind="small">saving …</Text> : null}
        </View>
      </View>
      <IconButton label="History" icon={Clock3} onPress={() => openPanel({ name: 'history' })} testID="history" />
      <IconButton label={canUndo ? `Undo: ${canUndo}` : 'Nothing to undo'} icon={Undo} onPress={undo} disabled={!canUndo} testID="undo" />
      <IconButton label={canRedo ? `Redo: ${canRedo}` : 'Nothing to redo'} icon={Redo} onPress={redo} disabled={!canRedo} testID="redo" />
      <View className="pl-1.5 pr-1.5">
        <Button label="Send" kind="main" onPress={onSend} testID="send" />
      </View>
    </View>
  );
}

/** The picture can be touched. */
const framing = (size: { width: number; height: number }) => <Handles {...size} />;

/** What an empty piece shows where its clips will be. */
function EmptyHint({ onAdd }: { onAdd: () => void }) {
  return (
    <View className="absolute inset-0 items-center justify-center gap-3 px-5">
      <Text kind="note" className="text-center">
        Nothing on the timeline yet.
      </Text>
      <Button label="Add clips" kind="main" onPress={onAdd} testID="add-first" />
    </View>
  );
}

function Phone({ ratio }: { ratio: number }) {
  const { width, height } = useWindowDimensions();
  const vertical = ratio <= 1;
  const [send, setSend] = useState(false);
  const [chosen, setChosen] = useState<string[]>([]);
  const [share, setShare] = useState(() => (vertical ? 0.44 : Math.min(0.34, width / ratio / height)));
  const docked = useDocked();
  const framed = usePanel((s) => s.panel?.name === 'framing' || s.panel?.name === 'title');
  const across = framed ? Math.max(share, 0.56) : share;
  const selected = useEditor((s) => s.selected.length > 0) && !docked;
  const shelf = usePanel((s) => s.panel?.name === 'shelf');
  const empty = useIsEmpty();
  const addSheet = () => openPanel({ name: 'shelf' });
  const away = useShelfDrag((s) => s.item !== null);
  const timeline = (
    <View className="flex-1">
      <Timeline />
      {empty ? <EmptyHint onAdd={addSheet} /> : null}
    </View>
  );
  return (
    <ShelfDrag chosen={chosen} onPlaced={() => setChosen([])}>
      <View className="flex-1 bg-ground">
        <Header onSend={() => setSend(true)} />
        {vertical ? (
          <View className="min-h-0 flex-1 flex-row">
            <View className="pl-3" style={{ width: width * across }}>
              <View
                style={{
                  height: (width * across - 12) / ratio,
                  maxHeight: height * (framed ? 0.38 : docked ? 0.3 : 0.6),
                }}
              >
                <Preview over={framing} />
              </View>
              <View className="flex-row items-center justify-between pt-2">
                <PlayButton />
                <Steps />
              </View>
              <View className="flex-row items-center">
                <Clock />
                <Watching />
              </View>
              <View className="flex-row pb-2">
                <Meter />
              </View>
              <LoudnessLine />
              <ScrollView className="flex-1" contentContainerClassName="pb-4">
                <Card />
              </ScrollView>
            </View>
            <Divider axis="x" share={share} onShare={setShare} least={0.3} most={0.62} size={width} />
            {timeline}
          </View>
        ) : (
          <View className="min-h-0 flex-1">
            <View style={{ height: height * (docked && !framed ? Math.min(share, 0.16) : share) }}>
              <Preview over={framing} />
            </View>
            <Divider axis="y" share={share} onShare={setShare} least={0.14} most={0.5} size={height} />
            <View className="flex-row items-center gap-2 px-3 pb-1">
              <PlayButton />
              <Clock />
              <Watching />
              <Steps />
              <Meter />
            </View>
            <View className="min-h-0 flex-1 flex-row">
              {timeline}
              {selected ? (
                <ScrollView className="grow-0 pr-2" style={{ width: 164 }}>
                  <Card />
                </ScrollView>
              ) : null}
            </View>
          </View>
        )}
        {docked ? <Docked /> : <ActionBar onAdd={addSheet} />}
        <Sheet
          title="Shelf"
          open={shelf}
          onClose={closePanel}
          tall
          away={away}
          testID="shelf-sheet"
          footer={
            <AddBar
              chosen={chosen}
              onDone={() => {
                setChosen([]);
                closePanel();
              }}
            />
          }
        >
          <Shelf chosen={chosen} onChoose={setChosen} columns={3} width={Math.min(width, 560) - 40} />
        </Sheet>
        <SendSheet open={send} onClose={() => setSend(false)} />
      </View>
    </ShelfDrag>
  );
}

function Wide() {
  const { width } = useWindowDimensions();
  const empty = useIsEmpty();
  const [send, setSend] = useState(false);
  const [chosen, setChosen] = useState<string[]>([]);
  const selected = useEditor((s) => s.selected.length > 0);
  const [share, setShare] = useState(0.4);
  const side = 304;
  return (
    <ShelfDrag chosen={chosen} onPlaced={() => setChosen([])}>
      <View className="flex-1 flex-row bg-ground">
        <View className="border-r border-hairline" style={{ width: side }}>
          <View className="px-4 pb-2 pt-4">
            <Text kind="heading" accessibilityRole="header">
              Shelf
            </Text>
          </View>
          <ScrollView className="min-h-0 flex-1" contentContainerClassName="px-4 pb-4">
            <Shelf chosen={chosen} onChoose={setChosen} columns={2} width={side - 33} />
          </ScrollView>
          <View className="border-t border-hairline px-4 py-3">
            <AddBar chosen={chosen} onDone={() => setChosen([])} />
          </View>
          {selected ? (
            <ScrollView className="grow-0 border-t border-hairline" contentContainerClassName="p-2" style={{ maxHeight: '42%' }}>
              <Card />
            </ScrollView>
          ) : null}
        </View>
        <View className="min-w-0 flex-1">
          <Header onSend={() => setSend(true)} />
          <View className="min-h-0 flex-1 px-4 pt-1">
            <Preview over={framing} />
          </View>
          <View className="flex-row items-center justify-between gap-3 px-4 pb-2 pt-3">
            <PlayButton />
            <View className="flex-row items-center">
              <Clock large />
              <Watching />
            </View>
            <Steps ends />
          </View>
          <View className="flex-row px-5 pb-4">
            <Meter />
          </View>
          <View className="px-5">
            <LoudnessLine />
          </View>
        </View>
        <Divider axis="x" share={1 - share} onShare={(s) => setShare(1 - s)} least={0.45} most={0.72} size={width} />
        <View style={{ width: width * share }}>
          <View className="min-h-0 flex-1">
            <Timeline />
            {empty ? (
              <View pointerEvents="none" className="absolute inset-0 items-center justify-center">
                <Text kind="note">Choose clips on the shelf, then add them.</Text>
              </View>
            ) : null}
          </View>
          <ActionBar onAdd={null} />
        </View>
        <Docked />
        <SendSheet open={send} onClose={() => setSend(false)} />
      </View>
    </ShelfDrag>
  );
}
