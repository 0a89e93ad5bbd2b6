/** Hands a file over to the person, under a name. */
export function saveFile(contents: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(contents);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
