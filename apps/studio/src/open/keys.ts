import { useEffect } from 'react';
import { create } from 'zustand';
import { z } from 'zod';
import { isCovered } from '../look/escape';
import { ACTIONS, type Action } from './actions';

const STORE = 'flimzy.keys';
const Chosen = z.record(z.string(), z.string());

function kept(): Record<string, string> {
  try {
    return Chosen.parse(JSON.parse(localStorage.getItem(STORE) ?? '{}'));
  } catch {
    return {};
  }
}

/** Keys that a person chose, by action; an empty one means no key. */
export const useChosenKeys = create<{ chosen: Record<string, string> }>(() => ({ chosen: kept() }));

function keep(chosen: Record<string, string>): void {
  localStorage.setItem(STORE, JSON.stringify(chosen));
  useChosenKeys.setState({ chosen });
}

/** The keys of an action, the first being the one shown. */
export function keysOf(action: Action, chosen: Record<string, string>): string[] {
  const own = chosen[action.id];
  if (own !== undefined) return own ? [own] : [];
  const taken = new Set(Object.entries(chosen).flatMap(([id, key]) => (id === action.id ? [] : [key])));
  return [...(action.key ? [action.key] : []), ...(action.also ?? [])].filter((key) => !taken.has(key));
}

/** Gives an action another key; whoever had it loses it. */
export function chooseKey(action: Action, key: string): void {
  const { chosen } = useChosenKeys.getState();
  const others = Object.fromEntries(Object.entries(chosen).filter(([id, k]) => id !== action.id && k !== key));
  keep({ ...others, [action.id]: key });
}

export const resetKeys = () => keep({});

/** A pressed key as it is written in tables: modifiers in order, then the key. */
export function keyName(event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>): string {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const plain = key.length === 1 && key.toLowerCase() === key.toUpperCase() && key !== ' ';
  const shift = event.shiftKey && !plain ? 'shift+' : '';
  return `${event.ctrlKey || event.metaKey ? 'ctrl+' : ''}${event.altKey ? 'alt+' : ''}${shift}${key}`;
}

const SAY: Record<string, string> = { ' ': 'Space', ArrowUp: '↑', ArrowDown: '↓', ArrowLeft: '←', ArrowRight: '→', Escape: 'Esc' };

/** A key as people read it. */
export function keyWords(key: string): string {
  const parts = key === '+' ? ['+'] : key.split('+').filter(Boolean);
  if (key.endsWith('++')) parts.push('+');
  return parts.map((part) => SAY[part] ?? (part.length === 1 ? part.toUpperCase() : part[0]?.toUpperCase() + part.slice(1))).join(' ');
}

/** Listens for keys while the editor is open; not while something is being typed or stands over it. */
export function useKeys(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const { target } = event;
      const name = keyName(event);
      if (isCovered() || target instanceof HTMLTextAreaElement) return;
      // A fader keeps the keys that move it; all else is for the editor while it has the focus.
      if (target instanceof HTMLInputElement && (target.type !== 'range' || /^(Arrow|Page|Home|End)/.test(name))) return;
      const { chosen } = useChosenKeys.getState();
      const action = ACTIONS.find((a) => keysOf(a, chosen).includes(name));
      if (!action || (target instanceof HTMLElement && target.role === 'button' && (name === ' ' || name === 'Enter'))) return;
      if (target instanceof HTMLButtonElement && (name === ' ' || name === 'Enter')) return;
      event.preventDefault();
      action.run();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
