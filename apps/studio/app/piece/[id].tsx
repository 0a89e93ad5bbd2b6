import { useLocalSearchParams } from 'expo-router';
import { useEffect } from 'react';
import { openEditor } from '../../src/open/editor';
import { EditorScreen } from '../../src/editing/EditorScreen';

export default function PiecePage() {
  const { id } = useLocalSearchParams<{ id: string }>();
  useEffect(() => openEditor(id), [id]);
  return <EditorScreen />;
}
