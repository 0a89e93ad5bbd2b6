/** Where a voice comes from: the microphones of this device, or whatever stands in for them. */
export interface Microphones {
  /** Those there are, with names once one of them was opened. */
  list(): Promise<{ id: string; name: string }[]>;
  /** Opens one (null: whichever the device takes). @throws Error with a sentence for people */
  open(id: string | null): Promise<MediaStream>;
  /** Calls back whenever one comes or goes; gives what ends that. */
  watch(onChange: () => void): () => void;
}

const SENTENCES: Record<string, string> = {
  NotAllowedError: 'The browser keeps the microphone from this page. Allow it beside the address, then try again.',
  NotFoundError: 'There is no microphone on this device.',
  NotReadableError: 'Another program holds the microphone. Close it there, then try again.',
  OverconstrainedError: 'That microphone is no longer there.',
};

const ABSENT =
  'A browser gives its microphone only to a page that is served securely: open Flimzy on this machine, or start it with HTTPS=own.';

/** The browser's own, with none of its processing: what was said is what is kept. */
export const BROWSER: Microphones = {
  async list() {
    const devices = (await navigator.mediaDevices?.enumerateDevices()) ?? [];
    const inputs = devices.filter(({ kind, deviceId }) => kind === 'audioinput' && deviceId !== 'communications');
    return inputs.map(({ deviceId, label }, n) => ({ id: deviceId, name: label || `Microphone ${n + 1}` }));
  },
  async open(id) {
    if (!navigator.mediaDevices) throw new Error(ABSENT);
    const plain = { echoCancellation: false, noiseSuppression: false, autoGainControl: false, sampleRate: 48_000, channelCount: 1 };
    const audio = id === null ? plain : { ...plain, deviceId: { exact: id } };
    return navigator.mediaDevices.getUserMedia({ audio }).catch((error: unknown) => {
      const name = error instanceof DOMException ? error.name : '';
      throw new Error(SENTENCES[name] ?? 'The microphone could not be opened.', { cause: error });
    });
  },
  watch(onChange) {
    navigator.mediaDevices?.addEventListener('devicechange', onChange);
    return () => navigator.mediaDevices?.removeEventListener('devicechange', onChange);
  },
};
