import type { PlatformFormat } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import Download from 'lucide-react-native/icons/download';
import Share from 'lucide-react-native/icons/share-2';
import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { useOnline } from '../../api/events';
import { Button } from '../../look/Button';
import { CaptionButtons } from '../../look/CaptionButtons';
import { Progress } from '../../look/Progress';
import { captionBlob, saveFile } from '../../look/saveFile';
import { size } from '../../look/size';
import { Text } from '../../look/Text';
import { Checks } from '../Checks';
import { saySettings } from '../FormatPart';
import { canShare, useShare } from '../share';
import { timeLeft } from '../timeLeft';
import { boxOf } from '../useChecked';
import { filesOf, useWishes } from '../wishes';
import { canMake, forget, isMadeHere, makeHere, useMade, type Made } from './making';

/** Files made by this device itself: when a person wants that, or the server cannot be reached. */
export function OnDevice({ piece, formats, pattern }: { piece: Piece; formats: readonly PlatformFormat[]; pattern: string }) {
  const [able, setAble] = useState(false);
  useEffect(() => void canMake().then(setAble), []);
  const wishes = useWishes();
  const all = useMade((s) => s.made);
  const online = useOnline((s) => s.online);
  const made = all.filter((one) => one.piece === piece.id);
  const files = formats.flatMap((format) => filesOf(piece, format, wishes[format.id], false)).filter(isMadeHere);
  if (!able || (files.length === 0 && made.length === 0)) return null;
  return (
    <View className="gap-2" testID="on-device">
      <Text kind="heading" accessibilityRole="header">
        On this device
      </Text>
      <Text kind="note">
        {online
          ? 'The same piece, made by this device instead of the server, as MP4 with H.264 and AAC. It takes longer, and this page has to stay open.'
          : 'The server cannot be reached. What this device has of the clips may be enough to make the file here.'}
      </Text>
      {files.length > 0 ? (
        <View className="flex-row">
          <Button
            label={files.length === 1 ? 'Make it here' : `Make ${files.length} files here`}
            onPress={() => files.forEach((settings) => makeHere(piece, settings, pattern, boxOf))}
            testID="make-here"
          />
        </View>
      ) : null}
      {made.map((one) => (
        <MadeRow key={one.id} made={one} />
      ))}
    </View>
  );
}

function MadeRow({ made }: { made: Made }) {
  const { id, name, settings, frames, of, secondsLeft, file, checks, cues, error, cancel } = made;
  const get = () => Promise.resolve(file ?? new Blob([]));
  const { share, busy } = useShare(name, name, get, 'video/mp4');
  const done = frames / Math.max(1, of);
  return (
    <View testID={error ? 'made-failed' : file ? 'made-done' : 'made-going'} className="gap-2 rounded-2xl border border-hairline px-4 py-3">
      <Text kind="label">
        {error ? 'Not made' : file ? 'Made here' : of === 0 ? 'Beginning' : 'Making it here'}
        {settings.format ? ` · ${settings.format.name}${settings.part === null ? '' : `, part ${settings.part + 1}`}` : ''}
      </Text>
      {error || file ? null : <Progress value={done} label="Making it here" />}
      <Text kind="small" className="font-mono leading-[16px]">
        {error ??
          (file
            ? `${name} · ${size(file.size)}`
            : `${Math.floor(done * 100)} %${secondsLeft === null ? '' : ` · ${timeLeft(secondsLeft)}`}`)}
      </Text>
      {file ? (
        <>
          <Text kind="small" className="font-mono leading-[16px]">
            {saySettings(settings)}
          </Text>
          <Checks checks={checks} />
        </>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        {file ? <Button label="Save" icon={Download} onPress={() => saveFile(file, name)} testID="save-made" /> : null}
        {file && canShare(name, 'video/mp4') ? (
          <Button label="Share" icon={Share} disabled={busy} onPress={share} testID="share-made" />
        ) : null}
        {file && cues.length > 0 ? (
          <CaptionButtons onSave={(kind, named) => saveFile(captionBlob(cues, kind), named(name))} testID="made-captions" />
        ) : null}
        {file || error ? (
          <Button label={file ? 'Delete' : 'Dismiss'} kind="quiet" onPress={() => forget(id)} testID="forget-made" />
        ) : (
          <Button label="Cancel" kind="quiet" onPress={cancel} testID="cancel-made" />
        )}
      </View>
    </View>
  );
}
