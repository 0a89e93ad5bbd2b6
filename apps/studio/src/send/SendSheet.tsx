import type { Delivery } from '@flimzy/contract';
import { unknownWord, USUAL_PATTERN, type PlatformFormat } from '@flimzy/core/deliver';
import { pieceLength, type Piece } from '@flimzy/core/piece';
import Plus from 'lucide-react-native/icons/file-plus';
import { useMemo, useState, type ReactNode } from 'react';
import { View } from 'react-native';
import { z } from 'zod';
import { call } from '../api/client';
import { deliveriesOf, putInto, useDeliveries } from '../api/queries';
import { Button } from '../look/Button';
import { FigureField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { say, sayWhy } from '../look/Toast';
import { useWide } from '../look/useWide';
import { useEditor, useWhole } from '../open/editor';
import { kept } from '../open/kept';
import { AboutPart } from './AboutPart';
import { ContactSheet } from './ContactSheet';
import { OnDevice } from './device/OnDevice';
import { Exports, ToExports, useShownRows } from './Exports';
import { FormatPart } from './FormatPart';
import { FormatTiles } from './FormatTiles';
import { chosenOf, useAwaited, useFormats } from '../open/formats';
import { saved } from '../open/saved';
import { importFormats } from './formats';
import { Shapes } from './Shapes';
import { useLoudness } from './useChecked';
import { useFlashes } from './useFlashes';
import { AS_IT_IS, filesOf, plainFormat, useTracksApart, useWishes } from './wishes';

/** How files are named, on this device. */
const Naming = z.object({ pattern: z.string().trim().min(1).max(200).default(USUAL_PATTERN) });
const { use: useNaming, set: setNaming } = kept('flimzy.naming', Naming);

/** The last step: what it is made for, what would go wrong there, and every export of this piece. */
export function SendSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const piece = useWhole();
  return piece ? <Sending piece={piece} open={open} onClose={onClose} /> : null;
}

function Sending({ piece, open, onClose }: { piece: Piece; open: boolean; onClose: () => void }) {
  const { data: mine = [] } = useDeliveries(piece.id);
  const all = useFormats();
  const awaited = useAwaited(piece);
  const revision = useEditor((s) => (s.session ? s.session.confirmed.revision + s.session.pending.length : 0));
  const [busy, setBusy] = useState(false);
  const showRows = useShownRows(mine);
  const chosen = useMemo(() => chosenOf(piece, all), [piece, all]);
  const formats = useMemo(() => (chosen.length > 0 ? chosen : [plainFormat(piece)]), [piece, chosen]);
  const pattern = useNaming((s) => s.pattern);
  const empty = pieceLength(piece) === 0;
  const going = mine.some((d) => d.status === 'waiting' || d.status === 'rendering');
  const start = async () => {
    setBusy(true);
    await saved()
      .then(() => sendAll(piece, formats, mine))
      .then(showRows)
      .catch(sayWhy)
      .finally(() => setBusy(false));
  };
  const label =
    chosen.length === 0
      ? going
        ? 'Export again as it is now'
        : 'Export'
      : chosen.length === 1
        ? `Export for ${chosen[0]?.name}`
        : `Export for ${chosen.length} formats`;
  return (
    <Sheet
      title="Send"
      open={open}
      onClose={onClose}
      full
      broad
      testID="send-sheet"
      footer={
        <View className="w-full max-w-[560px] self-center">
          <Button label={label} kind="main" onPress={() => void start()} disabled={empty || busy || awaited} testID="export" />
        </View>
      }
    >
      {open ? (
        <View className="gap-4">
          <View className="gap-2">
            <View className="min-h-[44px] flex-row items-center justify-between gap-2">
              <Text kind="note" className="min-w-0 shrink">
                {chosen.length === 0 ? 'What is it made for? Choose one or more, or send it as it is.' : 'Made for'}
              </Text>
              <ToExports mine={mine} />
            </View>
            <FormatTiles piece={piece} all={all} />
          </View>
          <Areas
            beside={formats.length === 1}
            made={
              <>
                {empty ? (
                  <Text kind="note">The piece is empty. Add a clip first; then it can be exported.</Text>
                ) : (
                  <Shapes piece={piece} formats={formats} />
                )}
                <Parts piece={piece} formats={formats} all={all} onLeave={onClose} />
              </>
            }
            said={
              <>
                {empty ? null : <AboutPart piece={piece} />}
                <FileNames />
              </>
            }
            exports={mine.length > 0 ? <Exports mine={mine} revision={revision} /> : null}
            files={
              <>
                {empty || awaited ? null : <OnDevice piece={piece} formats={formats} pattern={pattern} />}
                {empty ? null : <ContactSheet piece={piece} />}
              </>
            }
          />
        </View>
      ) : null}
    </Sheet>
  );
}

/** Asks for every file; what is there already is said, not made again. @returns the exports that come of it, in the order they were asked for */
async function sendAll(piece: Piece, formats: readonly PlatformFormat[], mine: readonly Delivery[]): Promise<string[]> {
  const wishes = useWishes.getState();
  const { apart } = useTracksApart.getState();
  const name = useNaming.getState().pattern;
  const files = formats.flatMap((format) => filesOf(piece, format, wishes[format.id], apart));
  const asked: Delivery[] = [];
  for (const settings of files) {
    try {
      const delivery = await call('newDelivery', { body: { piece: piece.id, settings, name } });
      asked.push(delivery);
      putInto(deliveriesOf(delivery.piece), delivery);
    } catch (error) {
      sayWhy(error as Error);
      break;
    }
  }
  const old = asked.at(-1);
  if (asked.length === files.length && old && asked.every(({ id }) => mine.some((d) => d.id === id)))
    say(old.status === 'done' ? 'Nothing has changed since: this export is there already.' : 'It is being exported as it is now.');
  return asked.map(({ id }) => id);
}

/** Under each other: what was exported stands before all that can still be said and made. */
const NARROW = ['made', 'exports', 'said', 'files'] as const;
const WIDE = ['made', 'said', 'files'] as const;

/** What is made, what is said of it, and the files: these on the right where there is room, beside what is made too if that is one thing alone. */
function Areas({ beside, ...areas }: { beside: boolean } & Record<(typeof NARROW)[number], ReactNode>) {
  const room = useWide();
  const grid = {
    display: 'grid',
    columnGap: 24,
    gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)',
    gridTemplateRows: 'auto 1fr',
    gridTemplateAreas: beside ? '"made files" "said files"' : '"made made" "said files"',
  };
  return (
    <View className="gap-4" style={room ? (grid as object) : undefined}>
      {(room ? WIDE : NARROW).map((area) =>
        areas[area] ? (
          <View key={area} className="min-w-0 gap-4" style={room ? ({ gridArea: area } as object) : undefined}>
            {room && area === 'files' ? areas.exports : null}
            {areas[area]}
          </View>
        ) : null,
      )}
    </View>
  );
}

/** What is chosen, beside each other where there is room. */
function Parts({
  piece,
  formats,
  all,
  onLeave,
}: {
  piece: Piece;
  formats: readonly PlatformFormat[];
  all: readonly PlatformFormat[];
  onLeave: () => void;
}) {
  const beside = useWide() && formats.length > 1;
  const wanted = formats.some(({ loudness }) => loudness !== null);
  const { loud, measuring } = useLoudness(piece, wanted);
  const flashes = useFlashes(
    piece,
    formats.some(({ id }) => id !== AS_IT_IS),
  );
  return (
    <View className={beside ? 'flex-row flex-wrap items-start gap-4' : 'gap-4'}>
      {formats.map((format) => (
        <View key={format.id} style={beside ? { width: '48%', flexGrow: 1 } : undefined}>
          <FormatPart piece={piece} format={format} all={all} loud={loud} flashes={flashes} measuring={measuring} onLeave={onLeave} />
        </View>
      ))}
    </View>
  );
}

/** How files are named, and formats that come from elsewhere. */
function FileNames() {
  const pattern = useNaming((s) => s.pattern);
  return (
    <View className="gap-2">
      <View className="rounded-2xl bg-raised px-4">
        <FigureField
          label="File name"
          testID="file-pattern"
          value={pattern}
          onSubmit={(text) => {
            const unknown = unknownWord(text);
            if (unknown) return `${unknown} is nothing that can stand there: {piece}, {format}, {size}, {date}, {part}, {track} can.`;
            return setNaming({ pattern: text }) ? null : 'A name of up to 200 letters.';
          }}
        />
      </View>
      <View className="flex-row">
        <Button label="Bring a format in (JSON)" icon={Plus} kind="quiet" onPress={importFormats} testID="import-format" />
      </View>
    </View>
  );
}
