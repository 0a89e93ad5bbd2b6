import { soundSpan, type Clip } from '@flimzy/core/piece';
import { memo } from 'react';
import type { ClipBlockProps } from './ClipBlock';
import { boxOf, looksAlike, type ClipFaceProps } from './ClipFace';
import { Material, toneOf } from './Material';
import { NestInside } from './NestInside';
import { standing } from './scale';
import { SoundShape } from './SoundShape';

interface OwnSoundProps extends Pick<
  ClipBlockProps,
  'clip' | 'by' | 'item' | 'zoom' | 'left' | 'width' | 'height' | 'seenTop' | 'seenBottom'
> {
  /** Its ends can be pulled: its clip alone is selected, on a track that is not locked. */
  pullable: boolean;
  muted: boolean;
}

/** An end of a clip's own sound, to pull apart from its picture. */
function SoundHandle({ clip, edge }: { clip: Clip; edge: 'head' | 'tail' }) {
  return (
    <div
      data-handle={`sound-${edge}`}
      data-clip={clip.id}
      role="slider"
      aria-label={edge === 'head' ? `Sound start of ${clip.name}` : `Sound end of ${clip.name}`}
      aria-valuenow={0}
      style={{
        position: 'absolute',
        left: -6,
        right: -6,
        height: 36,
        [edge === 'head' ? 'top' : 'bottom']: -18,
        display: 'flex',
        justifyContent: 'center',
        alignItems: 'center',
        touchAction: 'none',
        cursor: 'ns-resize',
        zIndex: 4,
      }}
    >
      <div style={{ width: 18, height: 9, borderRadius: 5, background: 'var(--c-speech)', border: '2px solid var(--c-ground)' }} />
    </div>
  );
}

const OWN_TONE = toneOf(undefined);

/** The waveform of a clip's own sound, wherever it stands. */
const SoundFace = memo(function SoundFace({
  clip,
  item,
  ...seen
}: Pick<ClipFaceProps, 'clip' | 'item' | 'zoom' | 'width'> & { viewTop: number; viewBottom: number }) {
  return (
    <div style={boxOf('sound', undefined, OWN_TONE)}>
      <NestInside clip={clip} kind="sound" {...seen} />
      <Material clip={clip} media={undefined} item={item} kind="sound" tone={OWN_TONE} ownSound {...seen} />
    </div>
  );
}, looksAlike);

/** The sound of a picture clip, beside it, from where it starts to where it ends: not always where the picture does. */
export const OwnSound = memo(function OwnSound({
  clip,
  by,
  item,
  zoom,
  left,
  width,
  height,
  pullable,
  muted,
  seenTop,
  seenBottom,
}: OwnSoundProps) {
  return (
    <div
      data-clip={clip.id}
      data-kind="own-sound"
      aria-hidden={!pullable}
      style={{
        position: 'absolute',
        ...standing(soundSpan(clip).start, by, zoom),
        left,
        width,
        height,
        zIndex: pullable ? 3 : 1,
        opacity: muted ? 0.4 : 1,
      }}
    >
      <SoundFace clip={clip} item={item} zoom={zoom} width={width} viewTop={seenTop} viewBottom={seenBottom} />
      {pullable ? (
        <>
          <SoundShape clip={clip} zoom={zoom} width={width} />
          <SoundHandle clip={clip} edge="head" />
          <SoundHandle clip={clip} edge="tail" />
        </>
      ) : null}
    </div>
  );
});
