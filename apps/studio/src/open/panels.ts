import { create } from 'zustand';

/** What can stand open over the editor: one at a time. */
export type Panel =
  | { name: 'seam'; clip: string }
  | { name: 'track'; track: string }
  | { name: 'history' }
  | { name: 'keys' }
  | { name: 'search' }
  | { name: 'markers' }
  | { name: 'pauses' }
  | { name: 'cover' }
  | { name: 'framing' }
  /** The title that is selected. */
  | { name: 'title' }
  | { name: 'stickers' }
  | { name: 'captions' }
  | { name: 'looks' }
  | { name: 'full-screen' }
  | { name: 'speed' }
  | { name: 'fields' }
  /** Of the join before a clip; with `end`, of its end. */
  | { name: 'transition'; clip: string; end: boolean }
  | { name: 'narrate' }
  | { name: 'loudness' }
  | { name: 'under'; track: string | null }
  | { name: 'more' }
  | { name: 'gestures' }
  | { name: 'shelf' }
  | { name: 'look'; media: string };

export const usePanel = create<{ panel: Panel | null }>(() => ({ panel: null }));

export const openPanel = (panel: Panel) => usePanel.setState({ panel });
export const closePanel = () => usePanel.setState({ panel: null });
