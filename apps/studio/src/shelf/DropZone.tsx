import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { sendFiles } from '../api/uploads';
import { Text } from '../look/Text';

/** Files dropped anywhere on the page go to the shelf. */
export function DropZone() {
  const [over, setOver] = useState(false);
  useEffect(() => {
    let depth = 0;
    const carries = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
    const listeners: [keyof WindowEventMap, (event: DragEvent) => void][] = [
      ['dragenter', (event) => carries(event) && setOver((depth += 1) > 0)],
      ['dragleave', (event) => carries(event) && setOver((depth -= 1) > 0)],
      ['dragover', (event) => carries(event) && event.preventDefault()],
      [
        'drop',
        (event) => {
          if (!carries(event)) return;
          event.preventDefault();
          depth = 0;
          setOver(false);
          sendFiles(Array.from(event.dataTransfer?.files ?? []));
        },
      ],
    ];
    for (const [type, listener] of listeners) window.addEventListener(type, listener as EventListener);
    return () => {
      for (const [type, listener] of listeners) window.removeEventListener(type, listener as EventListener);
    };
  }, []);
  if (!over) return null;
  return (
    <View
      pointerEvents="none"
      className="absolute inset-3 z-50 items-center justify-center rounded-3xl border-2 border-dashed border-paper bg-ground/80"
    >
      <Text kind="title">Drop to bring it in</Text>
    </View>
  );
}
