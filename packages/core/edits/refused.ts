/** An edit that cannot be made. The message is a sentence for people; nothing has been changed. */
export class EditRefused extends Error {
  override name = 'EditRefused';
}
