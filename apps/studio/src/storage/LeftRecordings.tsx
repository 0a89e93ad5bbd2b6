import { fileName } from '@flimzy/core/deliver';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { View } from 'react-native';
import { usePieces } from '../api/queries';
import { Button } from '../look/Button';
import { saveFile } from '../look/saveFile';
import { size } from '../look/size';
import { Text } from '../look/Text';
import { say, sayWhy } from '../look/Toast';
import { forget, takesWithout } from '../narration/takes';

/** Recordings on this device whose pieces were deleted before they were sent: saved, or deleted. Nothing where there are none. */
export function LeftRecordings() {
  const { data: pieces } = usePieces();
  const { data: takes = [], refetch } = useQuery({
    queryKey: ['left-recordings', pieces?.map(({ id }) => id)],
    enabled: pieces !== undefined,
    staleTime: 0,
    queryFn: () => takesWithout((pieces ?? []).map(({ id }) => id)),
  });
  const [sure, setSure] = useState(false);
  if (takes.length === 0) return null;
  const save = () => takes.forEach(({ note, file }) => saveFile(file, fileName(note.name, 'wav')));
  const remove = async () => {
    await Promise.all(takes.map(({ note }) => forget(note.id)));
    setSure(false);
    await refetch();
    say('The recordings are deleted.');
  };
  return (
    <View className="gap-1 rounded-2xl border border-hairline px-4 py-3" testID="left-recordings">
      <View className="flex-row items-baseline justify-between gap-2">
        <Text kind="label">Recordings left on this device</Text>
        <Text kind="small" className="font-mono">
          {`${takes.length} · ${size(takes.reduce((sum, { file }) => sum + file.size, 0))}`}
        </Text>
      </View>
      <Text kind="small">Their pieces were deleted before they were sent. Save what you want to keep first.</Text>
      <View className="flex-row gap-2 pt-1">
        {sure ? (
          <>
            <Button label="Delete for good" kind="danger" onPress={() => void remove().catch(sayWhy)} testID="left-recordings-sure" />
            <Button label="Leave them" kind="quiet" onPress={() => setSure(false)} />
          </>
        ) : (
          <>
            <Button label="Save" onPress={save} testID="left-recordings-save" />
            <Button label="Delete for good …" onPress={() => setSure(true)} testID="left-recordings-ask" />
          </>
        )}
      </View>
    </View>
  );
}
