import { CAPTION_FILES, type CaptionFile } from '@flimzy/core/formats';
import { Button } from './Button';

/** A button for each kind of file that captions are handed over in. @param onSave gets the kind, and the name of a file with its ending instead of its own */
export function CaptionButtons({
  onSave,
  testID,
}: {
  onSave: (kind: CaptionFile, named: (name: string) => string) => void;
  testID: string;
}) {
  return (Object.keys(CAPTION_FILES) as CaptionFile[]).map((kind) => {
    const { name, extension } = CAPTION_FILES[kind];
    const named = (file: string) => file.replace(/\.[^.]*$/, `.${extension}`);
    return <Button key={kind} label={`Captions, ${name}`} onPress={() => onSave(kind, named)} testID={`${testID}-${kind}`} />;
  });
}
