import { sendFiles } from '../api/uploads';

/** What the file chooser offers; the server decides what it can read. */
const TYPES = 'video/*,audio/*,image/*,.mov,.mkv,.heic,.heif,.flac,.opus,.aac,.m4a';

/** Lets a person choose files from the phone, and sends them. */
export function chooseFiles(): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.multiple = true;
  input.accept = TYPES;
  input.dataset.testid = 'file-input';
  input.style.display = 'none';
  document.body.append(input);
  input.onchange = () => {
    sendFiles(Array.from(input.files ?? []));
    input.remove();
  };
  input.oncancel = () => input.remove();
  input.click();
}
