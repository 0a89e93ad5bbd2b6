import { formatTimecode, type Rate } from '@flimzy/core/time';
import { keepOrTake, pauseName, usePauses } from '../open/pauses';
import type { Column } from './columns';
import { toPixels } from './scale';

/** The pauses found in the clips of a track, over them: crossed out where they would be taken out. Touching one keeps it. */
export function PauseBands({ column, zoom, rate }: { column: Column; zoom: number; rate: Rate }) {
  const found = usePauses((s) => s.found);
  const kept = usePauses((s) => s.kept);
  if (found.length === 0) return null;
  const here = new Set(column.track.clips.map((clip) => clip.id));
  const right = column.own ? column.own.left + column.own.width : column.left + column.width;
  return (
    <>
      {found
        .filter((pause) => here.has(pause.clip))
        .map((pause) => {
          const out = !kept.has(pauseName(pause));
          const height = Math.max(3, toPixels(pause.to - pause.from, zoom));
          return (
            <button
              key={pauseName(pause)}
              data-head
              data-testid="pause-band"
              aria-pressed={out}
              aria-label={`Pause at ${formatTimecode(pause.from, rate)}: ${out ? 'taken out' : 'kept'}`}
              onClick={() => keepOrTake(pause)}
              style={{
                position: 'absolute',
                top: toPixels(pause.from, zoom),
                left: column.left,
                width: right - column.left,
                height,
                padding: 0,
                border: out ? '1.5px solid var(--c-paper)' : '1.5px dashed var(--c-paper)',
                borderRadius: 5,
                background: out
                  ? 'repeating-linear-gradient(-45deg, rgba(0,0,0,0.72) 0 5px, color-mix(in srgb, var(--c-paper) 42%, transparent) 5px 8px)'
                  : 'transparent',
                cursor: 'pointer',
                zIndex: 4,
              }}
            />
          );
        })}
    </>
  );
}
