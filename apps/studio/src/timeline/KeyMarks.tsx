import { clipEnd, timeOfKey, type Clip } from '@flimzy/core/piece';
import { isChanging, keyMoments } from '@flimzy/core/properties';
import { memo } from 'react';
import { toPixels } from './scale';

interface KeyMarksProps {
  clip: Clip;
  zoom: number;
  /** The clip alone is selected: its keys can be pulled. */
  held: boolean;
}

/** Keys of a picture's framing, where they lie on its clip. */
export const KeyMarks = memo(function KeyMarks({ clip, zoom, held }: KeyMarksProps) {
  if (!isChanging(clip)) return null;
  const seen = keyMoments(clip)
    .map((at) => ({ at, time: timeOfKey(clip, at) }))
    .filter(({ time }) => time >= clip.start && time <= clipEnd(clip));
  return (
    <>
      {seen.map(({ at, time }) => (
        <div
          key={at}
          {...(held ? { 'data-handle': 'key', 'data-point': at, 'data-clip': clip.id, role: 'slider', 'aria-valuenow': 0 } : {})}
          aria-label={held ? `Key of the framing of ${clip.name}` : undefined}
          data-testid="key-mark"
          style={{
            position: 'absolute',
            right: -7,
            top: toPixels(time - clip.start, zoom) - 17,
            width: 34,
            height: 34,
            display: 'flex',
            alignItems: 'center',
            justifyContent: 'center',
            pointerEvents: held ? 'auto' : 'none',
            touchAction: 'none',
            cursor: 'grab',
            zIndex: 4,
          }}
        >
          <div
            style={{
              width: 10,
              height: 10,
              transform: 'rotate(45deg)',
              background: '#fff',
              border: '2px solid rgba(0,0,0,0.75)',
              borderRadius: 2,
            }}
          />
        </div>
      ))}
    </>
  );
});
