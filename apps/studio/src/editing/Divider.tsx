import { useEffect, useRef } from 'react';

interface DividerProps {
  axis: 'x' | 'y';
  /** Share of the screen before the divider, 0 to 1. */
  share: number;
  onShare: (share: number) => void;
  least: number;
  most: number;
  /** The screen along the axis, in pixels. */
  size: number;
}

/** Pulled between "mostly picture" and "mostly timeline"; arrow keys move it too. */
export function Divider({ axis, share, onShare, least, most, size }: DividerProps) {
  const from = useRef<{ at: number; share: number } | null>(null);
  const clamp = (value: number) => Math.max(least, Math.min(most, value));
  useEffect(() => onShare(clamp(share)), [size]); // oxlint-disable-line react-hooks/exhaustive-deps -- only when the screen turns
  const across = axis === 'x';
  return (
    <div
      role="separator"
      tabIndex={0}
      aria-label="Divider between picture and timeline"
      aria-orientation={across ? 'vertical' : 'horizontal'}
      aria-valuenow={Math.round(share * 100)}
      onPointerDown={(e) => {
        from.current = { at: across ? e.clientX : e.clientY, share };
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) =>
        from.current && onShare(clamp(from.current.share + ((across ? e.clientX : e.clientY) - from.current.at) / size))
      }
      onPointerUp={() => (from.current = null)}
      onPointerCancel={() => (from.current = null)}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -0.02, ArrowUp: -0.02, ArrowRight: 0.02, ArrowDown: 0.02 }[e.key];
        if (by === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        onShare(clamp(share + by));
      }}
      style={{
        flex: 'none',
        [across ? 'width' : 'height']: 14,
        touchAction: 'none',
        cursor: across ? 'col-resize' : 'row-resize',
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'center',
      }}
    >
      <div
        style={{ [across ? 'width' : 'height']: 3, [across ? 'height' : 'width']: 34, borderRadius: 2, background: 'var(--c-hairline)' }}
      />
    </div>
  );
}
