// Metro's `import.meta` in a worker looks here; it must stand before every other import of a worker.
const scope = globalThis as { __ExpoImportMetaRegistry?: { url: string } };
scope.__ExpoImportMetaRegistry ??= { url: self.location.href };

export {};
