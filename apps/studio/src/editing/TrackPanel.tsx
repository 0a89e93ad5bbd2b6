import type { EditParams } from '@flimzy/core/edits';
import { findTrack } from '@flimzy/core/piece';
import ArrowLeft from 'lucide-react-native/icons/arrow-left';
import ArrowRight from 'lucide-react-native/icons/arrow-right';
import Eye from 'lucide-react-native/icons/eye';
import EyeOff from 'lucide-react-native/icons/eye-off';
import Headphones from 'lucide-react-native/icons/headphones';
import Gang from 'lucide-react-native/icons/group';
import Lock from 'lucide-react-native/icons/lock';
import LockOpen from 'lucide-react-native/icons/lock-open';
import Volume2 from 'lucide-react-native/icons/volume-2';
import VolumeX from 'lucide-react-native/icons/volume-x';
import { useEffect, useState, type ComponentProps } from 'react';
import { View } from 'react-native';
import { Button, IconButton } from '../look/Button';
import { Choice } from '../look/Choice';
import { TextField } from '../look/Field';
import { Sheet } from '../look/Sheet';
import { Text } from '../look/Text';
import { edit, selectAll, usePiece } from '../open/editor';
import { FigureOf } from '../look/FigureOf';
import { closePanel, openPanel, usePanel } from '../open/panels';

const ROLES = [
  { id: 'found', name: 'As heard' },
  { id: 'speech', name: 'Speech' },
  { id: 'music', name: 'Music' },
  { id: 'effects', name: 'Effects' },
] as const;
const PICTURE_ROLES = [...ROLES, { id: 'captions', name: 'Captions' }] as const;

/** One of the switches of a track, which share its width. */
function Switch(props: ComponentProps<typeof IconButton>) {
  return (
    <View className="flex-1">
      <IconButton {...props} />
    </View>
  );
}

/** One track: its name, whether it is seen, heard, touched, and its place among the others. */
export function TrackPanel() {
  const id = usePanel((s) => (s.panel?.name === 'track' ? s.panel.track : null));
  const piece = usePiece();
  const found = piece && id !== null ? findTrack(piece, id) : null;
  const track = piece?.tracks.find((t) => t.id === id) ?? found?.track;
  const [name, setName] = useState('');
  useEffect(() => setName(track?.name ?? ''), [track?.name]);
  if (!piece || !track || id === null) return null;
  const same = piece.tracks.filter((t) => t.kind === track.kind);
  const place = same.findIndex((t) => t.id === id);
  const set = (values: EditParams<'setTrack'>['set']) => edit('setTrack', { track: id, set: values });
  const rename = () => name.trim() && name.trim() !== track.name && set({ name: name.trim() });
  const picture = track.kind === 'picture';
  const remove = () => {
    if (edit('removeTracks', { tracks: [id] })) closePanel();
  };
  return (
    <Sheet title={track.name} open onClose={closePanel} low testID="track-sheet">
      <View className="gap-4">
        <View className="flex-row gap-1">
          {picture ? (
            <Switch
              icon={track.hidden ? EyeOff : Eye}
              label={track.hidden ? 'Show its pictures' : 'Hide its pictures'}
              caption={track.hidden ? 'Hidden' : 'Seen'}
              active={Boolean(track.hidden)}
              onPress={() => set({ hidden: !track.hidden })}
              testID="track-hide"
            />
          ) : null}
          <Switch
            icon={track.muted ? VolumeX : Volume2}
            label={track.muted ? 'Let its sound be heard' : 'Mute its sound'}
            caption={track.muted ? 'Muted' : 'Heard'}
            active={track.muted}
            onPress={() => set({ muted: !track.muted })}
            testID="track-mute"
          />
          <Switch
            icon={Headphones}
            label={track.solo ? 'Let the others be heard again' : 'Hear this track alone'}
            caption={track.solo ? 'Solo on' : 'Solo'}
            active={Boolean(track.solo)}
            onPress={() => set({ solo: !track.solo })}
            testID="track-solo"
          />
          <Switch
            icon={Gang}
            label={track.gang ? 'Take it out of the gang' : 'Gang it: its fader, mute and solo go with those of the others'}
            caption={track.gang ? 'Ganged' : 'Gang'}
            active={Boolean(track.gang)}
            onPress={() => set({ gang: !track.gang })}
            testID="track-gang"
          />
          <Switch
            icon={track.locked ? Lock : LockOpen}
            label={track.locked ? 'Unlock: let it be changed' : 'Lock: nothing touches it'}
            caption={track.locked ? 'Locked' : 'Lock'}
            active={Boolean(track.locked)}
            onPress={() => set({ locked: !track.locked })}
            testID="track-lock"
          />
        </View>
        <View>
          <FigureOf name="level" value={track.level ?? 0} set={(level) => set({ level })} testID="track-level" />
          <FigureOf name="pan" value={track.pan ?? 0} set={(pan) => set({ pan })} testID="track-pan" />
        </View>
        <View className="gap-1.5">
          <Text kind="label">What it is for</Text>
          <Choice
            label="What it is for"
            value={track.role ?? 'found'}
            options={picture ? PICTURE_ROLES : ROLES}
            onChange={(role) => set({ role: role === 'found' ? null : role })}
          />
          <Text kind="note">
            {track.under
              ? `Kept ${track.under.below.toFixed(0)} LU below whoever speaks on other tracks.`
              : track.role === 'captions'
                ? 'Titles on it are captions: each format draws them, or takes them as a file beside it.'
                : track.role === 'music' || track.role === 'effects'
                  ? 'Nothing on it counts as speech.'
                  : 'Whoever is heard to speak on it counts as speech.'}
          </Text>
          <Button label="Under speech …" onPress={() => openPanel({ name: 'under', track: id })} testID="track-under" />
        </View>
        <TextField label="Name of this track" value={name} onChange={setName} testID="track-name" />
        <Button label="Rename" onPress={rename} />
        <View className="gap-1.5">
          <Text kind="note">
            {picture
              ? place === 0
                ? 'The lowest picture: every other picture track covers it.'
                : `Covers ${place === 1 ? `“${same[0]?.name}”` : `the ${place} picture tracks before it`}; a track further right covers it.`
              : 'All sound tracks are heard together; their order changes nothing.'}
          </Text>
          <View className="flex-row gap-2">
            <View className="flex-1">
              <Button
                label="Move left"
                icon={ArrowLeft}
                disabled={place === 0}
                onPress={() => edit('orderTrack', { track: id, to: place - 1 })}
                testID="track-left"
              />
            </View>
            <View className="flex-1">
              <Button
                label="Move right"
                icon={ArrowRight}
                disabled={place === same.length - 1}
                onPress={() => edit('orderTrack', { track: id, to: place + 1 })}
                testID="track-right"
              />
            </View>
          </View>
        </View>
        <Button
          label="Select everything on it"
          onPress={() => {
            selectAll(track.clips.map((clip) => clip.id));
            closePanel();
          }}
        />
        {piece.tracks[0]?.id === id ? null : (
          <Button
            label={
              track.clips.length === 0
                ? 'Remove this track'
                : `Remove it with its ${track.clips.length === 1 ? 'clip' : `${track.clips.length} clips`}`
            }
            kind="danger"
            onPress={remove}
            testID="track-remove"
          />
        )}
      </View>
    </Sheet>
  );
}
