import { sendFiles } from '../api/uploads';
import { pickFiles } from '../look/pickFiles';

/** What the file chooser offers; the server decides what it can read. */
const TYPES = 'video/*,audio/*,image/*,.mov,.mkv,.heic,.heif,.flac,.opus,.aac,.m4a';

/** Lets a person choose files from the phone, and sends them. */
export const chooseFiles = (): void => pickFiles(TYPES, true, 'file-input', sendFiles);
