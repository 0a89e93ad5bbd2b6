import type { MediaItem } from '@flimzy/contract';
import { isStill, materialAt, soundSpan, speedOf, type Clip, type MediaFacts, type Track } from '@flimzy/core/piece';
import { Filmstrip } from './Filmstrip';
import { Waveform } from './Waveform';

/** The colour of what is heard: that of what its track is for; else music where the material is sound alone, and speech where it came with a picture. */
export const toneOf = (media: MediaFacts | undefined, role?: Track['role']) =>
  `var(--c-${role && role !== 'captions' ? role : media?.kind === 'sound' ? 'music' : 'speech'})`;

interface MaterialProps {
  clip: Clip;
  media: MediaFacts | undefined;
  item: MediaItem | undefined;
  kind: 'picture' | 'sound';
  tone: string;
  zoom: number;
  width: number;
  /** Starts with the clip's own sound, which may begin before its picture. */
  ownSound?: boolean;
  /** The part in view, in pixels from its top. */
  viewTop: number;
  viewBottom: number;
}

/** The stretch of material that a clip uses: its frames, or its waveform as loud as it will sound. */
export function Material({ clip, media, item, kind, tone, ownSound = false, ...seen }: MaterialProps) {
  if (kind === 'picture')
    return item?.filmstrip && media ? (
      <Filmstrip
        media={clip.media}
        strip={item.filmstrip}
        from={materialAt(clip, clip.start)}
        speed={isStill(clip, media) ? 0 : speedOf(clip)}
        {...seen}
      />
    ) : null;
  return (
    <Waveform
      clip={clip}
      there={item?.hasPeaks ?? false}
      heard={item?.heard ?? false}
      from={ownSound ? soundSpan(clip).start : clip.start}
      colour={tone}
      {...seen}
    />
  );
}
