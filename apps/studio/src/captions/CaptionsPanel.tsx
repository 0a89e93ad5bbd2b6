import { clipEnd, cuesOf, type Clip, type Piece } from '@flimzy/core/piece';
import ArrowDown from 'lucide-react-native/icons/arrow-down';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import Plus from 'lucide-react-native/icons/plus';
import { useEffect, useRef, useState } from 'react';
import { View, type TextInput } from 'react-native';
import { Button } from '../look/Button';
import { CaptionButtons } from '../look/CaptionButtons';
import { Dock } from '../look/Dock';
import { TextField } from '../look/Field';
import { captionBlob, saveFile } from '../look/saveFile';
import { Text } from '../look/Text';
import { useDucking } from '../open/ducking';
import { select, useEditor, useSettledPiece, useWhole } from '../open/editor';
import { closePanel, openPanel, usePanel } from '../open/panels';
import { useStandstill } from '../open/standstill';
import { CaptionRow } from './CaptionRow';
import { bringInFile, captionHere, captionsOn, onePerPhrase, spokenOn, spread } from './captioning';

/** How many captions are listed at once: those around the playhead. */
const PAGE = 20;

/** What is said, to be read: written by hand, spread over the speech, or brought in from a file. */
export function CaptionsPanel() {
  const open = usePanel((s) => s.panel?.name === 'captions');
  const piece = useSettledPiece();
  return open && piece ? <Open piece={piece} /> : null;
}

function Open({ piece }: { piece: Piece }) {
  const whole = useWhole();
  const [more, setMore] = useState(false);
  const captions = captionsOn(piece);
  const none = captions.length === 0;
  return (
    <Dock
      title="Captions"
      onClose={closePanel}
      testID="captions-panel"
      footer={
        none ? null : (
          <View className="flex-row gap-2">
            <View className="flex-1">
              <Button label="One here" icon={Plus} onPress={captionHere} testID="caption-here" />
            </View>
            <View className="flex-1">
              <Button label={more ? 'The list' : 'More'} onPress={() => setMore(!more)} testID="captions-more" />
            </View>
          </View>
        )
      }
    >
      {none || more ? (
        <View className="gap-4">
          {none ? null : (
            <>
              <Look captions={captions} />
              <View className="flex-row flex-wrap gap-2">
                <CaptionButtons
                  onSave={(kind, named) => whole && saveFile(captionBlob(cuesOf(whole), kind), named(`${whole.name}.`))}
                  testID="save"
                />
              </View>
            </>
          )}
          <Beginning piece={piece} none={none} onDone={() => setMore(false)} />
        </View>
      ) : (
        <List piece={piece} captions={captions} />
      )}
    </Dock>
  );
}

/** Ways to come to captions. */
function Beginning({ piece, none, onDone }: { piece: Piece; none: boolean; onDone: () => void }) {
  const [text, setText] = useState('');
  // Anew when something has been listened to.
  useDucking((s) => s.hearing);
  const spoken = spokenOn(piece).length > 0;
  const then = (done: boolean) => {
    if (!done) return;
    setText('');
    onDone();
  };
  return (
    <View className="gap-3">
      {none ? (
        <Text kind="note">
          What is said, to be read. Captions stand on a track of their own; each format draws them or takes them as a file.
        </Text>
      ) : null}
      <TextField
        label="All that is said"
        value={text}
        onChange={setText}
        lines={4}
        placeholder="Write or paste it here"
        testID="captions-text"
      />
      <Text kind="note">
        {spoken
          ? 'It is laid over the time in which someone speaks'
          : 'Nobody is heard to speak: it is laid out from the playhead, at the speed of speech'}
        {none ? '.' : ', instead of the captions that are there.'}
      </Text>
      <Button
        label={spoken ? 'Spread over the speech' : 'Spread from here'}
        kind="main"
        disabled={text.trim() === ''}
        onPress={() => then(spread(text))}
        testID="captions-spread"
      />
      <View className="flex-row flex-wrap gap-2">
        {spoken ? <Button label="One for each phrase" onPress={() => then(onePerPhrase())} testID="captions-phrases" /> : null}
        <Button label="From a file" onPress={bringInFile} testID="captions-bring" />
        {none ? <Button label="One here" icon={Plus} onPress={() => then(captionHere())} testID="caption-here" /> : null}
      </View>
    </View>
  );
}

/** Opens what changes the looks of a caption: the one that is selected, or the first. */
function Look({ captions }: { captions: readonly Clip[] }) {
  const selected = useEditor((s) => s.selected);
  const [first] = captions;
  const open = () => {
    if (!captions.some(({ id }) => selected.includes(id)) && first) select(first.id);
    openPanel({ name: 'title' });
  };
  return <Button label="How they look …" onPress={open} testID="captions-look" />;
}

/** The captions around the playhead, a page of them at a time. */
function List({ piece, captions }: { piece: Piece; captions: readonly Clip[] }) {
  const playhead = useStandstill();
  const inputs = useRef(new Map<string, TextInput>());
  const wanted = useRef<string | null>(null);
  const at = Math.max(
    0,
    captions.findLastIndex((clip) => clip.start <= playhead),
  );
  const [turned, setTurned] = useState<number | null>(null);
  useEffect(() => setTurned(null), [playhead]);
  const pages = Math.ceil(captions.length / PAGE);
  const page = Math.min(pages - 1, turned ?? Math.floor(at / PAGE));
  const shown = captions.slice(page * PAGE, (page + 1) * PAGE);
  const register = (id: string, input: TextInput | null) => {
    if (!input) return void inputs.current.delete(id);
    inputs.current.set(id, input);
    if (wanted.current !== id) return;
    wanted.current = null;
    input.focus();
  };
  const goOn = (from: Clip) => {
    const next = captions.find((clip) => clip.start > from.start);
    if (!next) return;
    const input = inputs.current.get(next.id);
    if (input) return input.focus();
    wanted.current = next.id;
    setTurned(Math.floor(captions.indexOf(next) / PAGE));
  };
  return (
    <View>
      {page > 0 ? (
        <Button
          label={`${page * PAGE} earlier`}
          icon={ArrowUp}
          kind="quiet"
          onPress={() => setTurned(page - 1)}
          testID="captions-earlier"
        />
      ) : null}
      {shown.map((clip) => (
        <CaptionRow
          key={clip.id}
          piece={piece}
          clip={clip}
          here={clip.start <= playhead && clipEnd(clip) > playhead}
          onNext={() => goOn(clip)}
          register={register}
        />
      ))}
      {page < pages - 1 ? (
        <Button
          label={`${captions.length - (page + 1) * PAGE} later`}
          icon={ArrowDown}
          kind="quiet"
          onPress={() => setTurned(page + 1)}
          testID="captions-later"
        />
      ) : null}
    </View>
  );
}
