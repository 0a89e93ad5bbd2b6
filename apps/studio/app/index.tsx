import type { PieceSummary } from '@flimzy/contract';
import { useRouter } from 'expo-router';
import HardDrive from 'lucide-react-native/icons/hard-drive';
import Plus from 'lucide-react-native/icons/plus';
import { useEffect, useState } from 'react';
import { ScrollView, useWindowDimensions, View } from 'react-native';
import { usePieces } from '../src/api/queries';
import { Button, IconButton } from '../src/look/Button';
import { Text } from '../src/look/Text';
import { Arrivals } from '../src/pieces/Arrivals';
import { NewPieceSheet } from '../src/pieces/NewPieceSheet';
import { PieceMenu } from '../src/pieces/PieceMenu';
import { PieceTile } from '../src/pieces/PieceTile';
import { warmUp } from '../src/preview/warm';
import { StorageSheet } from '../src/storage/StorageSheet';

/** All pieces, last changed first. */
export default function Pieces() {
  const { data: pieces, isLoading, error, refetch } = usePieces();
  const [making, setMaking] = useState(false);
  const [storage, setStorage] = useState(false);
  const [menu, setMenu] = useState<PieceSummary | null>(null);
  const { width } = useWindowDimensions();
  const router = useRouter();
  const there = pieces !== undefined;
  useEffect(() => {
    if (there) warmUp();
  }, [there]);
  const room = Math.min(width, 1180) - 40;
  const columns = Math.max(2, Math.floor(room / 230));
  const cell = Math.floor((room - (columns - 1) * 16) / columns);
  return (
    <View className="flex-1 bg-ground">
      <ScrollView contentContainerClassName="px-5 pb-28 pt-5 w-full max-w-[1180px] self-center">
        <View className="flex-row items-center justify-between pb-6">
          <View className="min-w-0 shrink">
            <Text kind="title" accessibilityRole="header" className="text-[34px] leading-[38px]">
              Flimzy
            </Text>
            <Text kind="note">Your pieces, last changed first</Text>
          </View>
          <View className="flex-row items-center gap-1">
            <IconButton label="Storage" icon={HardDrive} onPress={() => setStorage(true)} testID="storage" />
            <Button label="New piece" icon={Plus} kind="main" onPress={() => setMaking(true)} testID="new" />
          </View>
        </View>
        <Arrivals onOpen={(id) => router.push({ pathname: '/piece/[id]', params: { id } })} />
        {isLoading ? <Text kind="note">Looking for your pieces …</Text> : null}
        {error ? (
          <View className="items-start gap-3">
            <Text className="text-warn">{error.message}</Text>
            <Button label="Try again" onPress={() => void refetch()} />
          </View>
        ) : null}
        {pieces?.length === 0 ? (
          <View className="items-center gap-4 py-20">
            <Text kind="heading">Nothing here yet</Text>
            <Text kind="note" className="max-w-[280px] text-center">
              A piece is one short video. Choose its shape, bring in a few clips, cut.
            </Text>
            <Button label="Make the first piece" kind="main" onPress={() => setMaking(true)} />
          </View>
        ) : null}
        <View className="flex-row flex-wrap" style={{ gap: 16, rowGap: 26 }}>
          {(pieces ?? []).map((piece) => (
            <PieceTile
              key={piece.id}
              piece={piece}
              width={cell}
              onOpen={() => router.push({ pathname: '/piece/[id]', params: { id: piece.id } })}
              onMore={() => setMenu(piece)}
            />
          ))}
        </View>
      </ScrollView>
      <NewPieceSheet open={making} onClose={() => setMaking(false)} />
      <StorageSheet open={storage} onClose={() => setStorage(false)} />
      <PieceMenu piece={menu} onClose={() => setMenu(null)} />
    </View>
  );
}
