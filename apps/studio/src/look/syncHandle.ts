/** What a browser gives a worker to write a file of this device's own storage with. */
export interface SyncHandle {
  write(bytes: ArrayBufferView, options: { at: number }): number;
  truncate(size: number): void;
  flush(): void;
  close(): void;
}

/** Opens a file of a folder to be written, and makes it where it is not there. @throws where the browser has none for workers */
export async function openSync(
  folder: FileSystemDirectoryHandle,
  name: string,
): Promise<{ file: FileSystemFileHandle; handle: SyncHandle }> {
  const file = await folder.getFileHandle(name, { create: true });
  const handle = await (file as unknown as { createSyncAccessHandle(): Promise<SyncHandle> }).createSyncAccessHandle();
  return { file, handle };
}
