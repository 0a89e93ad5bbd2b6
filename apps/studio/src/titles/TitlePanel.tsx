import { PLAIN_SHAPE, PLAIN_TEXT, type DrawnPart } from '@flimzy/core/frame';
import { clipEnd, findClip, isCaptions, type Clip, type Piece } from '@flimzy/core/piece';
import {
  lettersWithout,
  PARTS_MOST,
  readingTime,
  sayLetters,
  SHAPE_NAMES,
  type Overlay,
  type Part,
  type TextPart,
} from '@flimzy/core/properties';
import { fromSeconds, toGrid, toSeconds } from '@flimzy/core/time';
import Plus from 'lucide-react-native/icons/plus';
import { useEffect } from 'react';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { Dock } from '../look/Dock';
import { Text } from '../look/Text';
import { edit, moveTo, useEditor } from '../open/editor';
import { closePanel, openPanel, usePanel } from '../open/panels';
import { choosePart, setTitle, wholeAt } from '../open/titles';
import { Motions } from './Motions';
import { Presets } from './Presets';
import { ShapeLooks } from './ShapeLooks';
import { TextLooks } from './TextLooks';
import { usePictureColours } from './usePictureColours';
import { useTitle, type ChosenPart } from './useTitle';
import { WordsField } from './WordsField';

/** The title that is selected: its words, its looks, how it comes and goes. */
export function TitlePanel() {
  const open = usePanel((s) => s.panel?.name === 'title');
  return open ? <Open /> : null;
}

function Open() {
  const chosen = useTitle();
  const title = chosen?.clip.id;
  useEffect(() => choosePart(null), [title]);
  return (
    <Dock title="Title" onClose={closePanel} testID="title-panel">
      {chosen ? <Parts key={chosen.clip.id} chosen={chosen} /> : <Text kind="note">Touch a title, here above or on the timeline.</Text>}
    </Dock>
  );
}

const partName = (part: Part, n: number) =>
  part.kind === 'shape' ? SHAPE_NAMES[part.shape] : part.text.trim().slice(0, 14) || `Text ${n + 1}`;

/** The words that a new title has before anything is written. */
const isFresh = (part: Part) => part.kind === 'text' && (part.text === 'Your words' || part.text === '');

function Parts({ chosen }: { chosen: ChosenPart }) {
  const { piece, clip, overlay, part, n, set, look } = chosen;
  const near = usePictureColours(piece);
  const add = (one: DrawnPart) => {
    if (setTitle(clip, { overlay: { parts: [...overlay.parts, one] } })) choosePart(overlay.parts.length);
  };
  return (
    <View className="gap-4">
      {overlay.parts.length > 1 ? (
        <Choice
          label="Part"
          value={String(n)}
          options={overlay.parts.map((one, i) => ({ id: String(i), name: partName(one, i) }))}
          onChange={(id) => choosePart(Number(id))}
        />
      ) : null}
      {part.kind === 'text' ? (
        <WordsField key={n} text={part.text} fresh={isFresh(part)} onLook={(text) => look({ text })} onKeep={(text) => set({ text })} />
      ) : null}
      {part.kind === 'text' ? <Boxed text={part.text} /> : null}
      <Seen clip={clip} overlay={overlay} />
      {overlay.parts.some((one) => one.kind === 'text') ? (
        <Presets clip={clip} overlay={overlay} format={piece.format} onChosen={() => choosePart(null)} />
      ) : null}
      {part.kind === 'text' ? <AllCaptions piece={piece} clip={clip} part={part} /> : null}
      {part.kind === 'text' ? <TextLooks part={part} set={set} near={near} /> : <ShapeLooks part={part} set={set} near={near} />}
      <Motions clip={clip} />
      <View className="flex-row flex-wrap gap-2">
        <Button
          label="Text"
          icon={Plus}
          disabled={overlay.parts.length >= PARTS_MOST}
          onPress={() => add({ ...PLAIN_TEXT, text: '', y: 0.6 })}
          testID="add-text"
        />
        <Button
          label="Shape"
          icon={Plus}
          disabled={overlay.parts.length >= PARTS_MOST}
          onPress={() => add({ ...PLAIN_SHAPE })}
          testID="add-shape"
        />
        {overlay.parts.length > 1 ? (
          <Button
            label="Take this part away"
            onPress={() => setTitle(clip, { overlay: { parts: overlay.parts.filter((_, i) => i !== n) } })}
            testID="remove-part"
          />
        ) : null}
      </View>
    </View>
  );
}

/** Makes all captions look as this one does. */
function AllCaptions({ piece, clip, part }: { piece: Piece; clip: Clip; part: TextPart }) {
  const track = findClip(piece, clip.id)?.track;
  if (!track || !isCaptions(track) || track.clips.length < 2) return null;
  const { text: _words, ...look } = part;
  return (
    <View className="flex-row flex-wrap gap-2">
      <Button label="All captions like this one" onPress={() => edit('lookOfCaptions', { look })} testID="captions-alike" />
      <Button label="Back to the captions" kind="quiet" onPress={() => openPanel({ name: 'captions' })} testID="captions-back" />
    </View>
  );
}

/** Says which letters cannot be drawn. */
function Boxed({ text }: { text: string }) {
  const letters = lettersWithout(text);
  if (letters.length === 0) return null;
  return (
    <Text kind="note" className="text-warn" testID="title-boxed">
      No font here has {sayLetters(letters)}: empty boxes are seen in their place.
    </Text>
  );
}

/** Says when the title is not there at the playhead, or not long enough to be read. */
function Seen({ clip, overlay }: { clip: Clip; overlay: Overlay }) {
  const playhead = useEditor((s) => s.playhead);
  const rate = useEditor((s) => s.session?.current.piece.format.rate);
  const needed = fromSeconds(readingTime(overlay));
  const there = playhead >= clip.start && playhead < clipEnd(clip);
  const seconds = (length: number) => `${toSeconds(length).toFixed(1)} s`;
  const longer = rate ? toGrid(needed + fromSeconds(0.04), rate) : needed;
  if (there && clip.length >= needed) return null;
  return (
    <View className="gap-2">
      {clip.length < needed ? (
        <View className="gap-2" testID="title-brief">
          <Text kind="note" className="text-warn">
            It is seen for {seconds(clip.length)}; reading it takes about {seconds(needed)}.
          </Text>
          <Button
            label={`${seconds(longer)} long`}
            onPress={() => edit('trim', { clip: clip.id, edge: 'tail', to: clip.start + longer, rest: 'stay', tracks: 'own' })}
            testID="title-longer"
          />
        </View>
      ) : null}
      {there ? null : <Button label="Go to the title" onPress={() => moveTo(wholeAt(clip))} testID="title-go" />}
    </View>
  );
}
