import '../global.css';
import { BricolageGrotesque_600SemiBold } from '@expo-google-fonts/bricolage-grotesque/600SemiBold';
import { BricolageGrotesque_700Bold } from '@expo-google-fonts/bricolage-grotesque/700Bold';
import { DMMono_400Regular } from '@expo-google-fonts/dm-mono/400Regular';
import { DMMono_500Medium } from '@expo-google-fonts/dm-mono/500Medium';
import { InstrumentSans_400Regular } from '@expo-google-fonts/instrument-sans/400Regular';
import { InstrumentSans_500Medium } from '@expo-google-fonts/instrument-sans/500Medium';
import { InstrumentSans_600SemiBold } from '@expo-google-fonts/instrument-sans/600SemiBold';
import { QueryClientProvider } from '@tanstack/react-query';
import { useFonts } from 'expo-font';
import { Stack } from 'expo-router';
import { useEffect } from 'react';
import { View } from 'react-native';
import { listenToServer, useOnline } from '../src/api/events';
import { queryClient } from '../src/api/queries';
import { Text } from '../src/look/Text';
import { Notices } from '../src/look/Toast';
import { DropZone } from '../src/shelf/DropZone';

export default function Layout() {
  const [loaded, failed] = useFonts({
    BricolageGrotesque_600SemiBold,
    BricolageGrotesque_700Bold,
    DMMono_400Regular,
    DMMono_500Medium,
    InstrumentSans_400Regular,
    InstrumentSans_500Medium,
    InstrumentSans_600SemiBold,
  });
  const online = useOnline((s) => s.online);
  useEffect(listenToServer, []);
  if (!loaded && !failed) return null;
  return (
    <QueryClientProvider client={queryClient}>
      <View className="flex-1 bg-ground">
        {online ? null : (
          <View accessibilityRole="alert" testID="offline" className="bg-warn px-4 py-1.5">
            <Text kind="label" className="text-center text-ground">
              The server does not answer. Your edits are kept here and sent when it is back.
            </Text>
          </View>
        )}
        <View role="main" className="flex-1">
          <Stack screenOptions={{ headerShown: false, animation: 'none', contentStyle: { backgroundColor: 'transparent' } }} />
        </View>
        <Notices />
        <DropZone />
      </View>
    </QueryClientProvider>
  );
}
