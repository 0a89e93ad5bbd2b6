import { fileName } from '@flimzy/core/deliver';
import { cubeFile } from '@flimzy/core/formats';
import { isColour } from '@flimzy/core/frame';
import { findClip, type Piece } from '@flimzy/core/piece';
import { effectsOn, type Effect, type Effects } from '@flimzy/core/properties';
import { create } from 'zustand';
import { saveFile } from '../look/saveFile';
import { say } from '../look/Toast';
import { currentPiece, edit, stopTrying, tryEdit, useEditor } from './editor';
import { picturesOf } from './framing';

/** What a look is on. */
export type Scope = 'clips' | 'track' | 'piece';

/** What a scope is just now: the clips that are selected, or the track of the first of them (the lowest when none is). */
export interface Scoped {
  scope: Scope;
  clips: string[];
  track: string | null;
  effects: Effects;
}

export function scoped(piece: Piece, selected: readonly string[], scope: Scope): Scoped {
  const all = picturesOf(piece, selected).map(({ clip }) => clip);
  const [first] = all;
  const track = first ? findClip(piece, first.id)?.track : piece.tracks[0];
  const effects = { clips: first?.effects, track: track?.effects, piece: piece.effects }[scope] ?? 'none';
  return { scope, clips: all.map(({ id }) => id), track: track?.id ?? null, effects };
}

/** A list without what does nothing. */
export function tidied(effects: readonly Effect[]): Effects {
  const kept = effects.filter((effect) => {
    if (effect.kind === 'look' || effect.kind === 'table') return true;
    const { kind: _, off: __, ...figures } = effect;
    return Object.values(figures).some((figure) => figure !== 0);
  });
  return kept.length === 0 ? 'none' : kept;
}

/** Sets what is done to the pictures of a scope. */
export function setEffects({ scope, clips, track }: Scoped, effects: Effects): boolean {
  if (scope === 'piece') return edit('setLook', { effects });
  if (scope === 'track') return track !== null && edit('setTrack', { track, set: { effects } });
  return clips.length > 0 && edit('set', { clips, values: { effects } });
}

/** Shows what that would be. */
export function tryEffects({ scope, clips, track }: Scoped, effects: Effects): void {
  const at = () => useEditor.getState().playhead;
  if (scope === 'piece') tryEdit('setLook', { effects }, at);
  else if (scope === 'track') {
    if (track !== null) tryEdit('setTrack', { track, set: { effects } }, at);
  } else if (clips.length > 0) tryEdit('set', { clips, values: { effects } }, at);
}

/** Shows the picture without any look while something is held, and with it again. */
export function compare(now: Scoped, held: boolean): void {
  if (held) tryEffects(now, 'none');
  else stopTrying();
}

const useCopied = create<{ effects: Effects } | null>(() => null);
export const useHasLook = () => useCopied((s) => s !== null);

/** Copies the look of a clip. */
export function copyLook(clip: { effects?: Effects | undefined }): void {
  useCopied.setState({ effects: clip.effects ?? 'none' }, true);
  say('The look is copied: select other clips and paste it.');
}

/** Gives clips the look that was copied. */
export function pasteLook(clips: string[]): boolean {
  const copied = useCopied.getState();
  if (copied) return edit('set', { clips, values: { effects: copied.effects } });
  say('Copy the look of another clip first.');
  return false;
}

/** Gives the colours of a list as a file for other programs. */
export function saveCube(effects: Effects): void {
  const colours = effectsOn(effects).filter(isColour);
  if (colours.length === 0) return say('There are no colours to save: choose a look, or change the colours first.');
  const name = `${currentPiece()?.name ?? 'Look'} look`;
  saveFile(new Blob([cubeFile(colours, name)], { type: 'text/plain' }), fileName(name, 'cube'));
}
