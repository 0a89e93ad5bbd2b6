import { isMoving, stoodStill, turnedRound } from '@flimzy/core/frame';
import { clipEnd, type Piece } from '@flimzy/core/piece';
import { typedSeconds } from '@flimzy/core/properties';
import { frameLength, toSeconds } from '@flimzy/core/time';
import { View } from 'react-native';
import { Button } from '../look/Button';
import { Choice } from '../look/Choice';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { actionOf } from '../open/actions';
import { moveTo } from '../open/editor';
import { setEach, type Framed } from '../open/framing';
import { setPhotos, usePhotos } from '../open/photos';

/** Pan and zoom: from one framing at the start of a clip to another at its end. */
export function Movement({ piece, all }: { piece: Piece; all: readonly Framed[] }) {
  const moving = all.some(({ clip }) => isMoving(clip));
  const [first] = all;
  const frame = frameLength(piece.format.rate);
  const at = (where: 'start' | 'end') => first && moveTo(where === 'start' ? first.clip.start : clipEnd(first.clip) - frame);
  return (
    <View className="gap-2">
      <Text kind="label">Pan and zoom over the whole clip</Text>
      <View className="flex-row flex-wrap gap-2">
        <Button label="Towards" onPress={actionOf('zoom-towards').run} testID="zoom-towards" />
        <Button label="Away" onPress={actionOf('zoom-away').run} testID="zoom-away" />
        {moving ? (
          <>
            <Button
              label="Turn round"
              onPress={() => setEach('Turn the movement round', all, ({ clip }) => turnedRound(clip))}
              testID="zoom-round"
            />
            <Button label="Stand still" onPress={() => setEach('Stand still', all, ({ clip }) => stoodStill(clip))} testID="zoom-off" />
          </>
        ) : null}
      </View>
      {all.some(({ media }) => media.kind === 'photo') ? <NewPhotos /> : null}
      {moving ? (
        <View className="flex-row gap-2">
          <Button label="See the start" kind="quiet" onPress={() => at('start')} testID="see-start" />
          <Button label="See the end" kind="quiet" onPress={() => at('end')} testID="see-end" />
        </View>
      ) : null}
    </View>
  );
}

/** What becomes of photos that are set down from now on. */
function NewPhotos() {
  const { length, moves } = usePhotos();
  return (
    <View className="rounded-2xl bg-raised px-4">
      <FigureField
        label="New photos last"
        testID="photo-length"
        value={`${toSeconds(length)} s`}
        onSubmit={(text) => {
          const typed = typedSeconds(text);
          return typed !== null && setPhotos({ length: typed }) ? null : 'Between 0.1 and 600 s.';
        }}
      />
      <View className="flex-row items-center justify-between gap-2 border-t border-hairline py-1.5">
        <Text kind="note">New photos</Text>
        <Choice
          label="New photos"
          value={moves ? 'move' : 'stand'}
          options={[
            { id: 'move', name: 'Move gently' },
            { id: 'stand', name: 'Stand still' },
          ]}
          onChange={(value) => setPhotos({ moves: value === 'move' })}
        />
      </View>
    </View>
  );
}
