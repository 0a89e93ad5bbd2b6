import {
  clipEnd,
  heardTracks,
  isFile,
  isHeard,
  seenThrough,
  seenTracks,
  soundSpan,
  type Clip,
  type MediaFacts,
  type Piece,
  type Timeline,
} from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { useMediaOf } from '../api/queries';
import { useEditor } from '../open/editor';
import { Material, toneOf } from './Material';
import { toPixels } from './scale';

interface NestInsideProps {
  clip: Clip;
  kind: 'picture' | 'sound';
  zoom: number;
  width: number;
  /** The part of the clip in view, in pixels from its top. */
  viewTop: number;
  viewBottom: number;
}

/** What a clip shows of the inside of its nest: the frames of its pictures, or the waveforms of all that is heard in it. */
export function NestInside({ clip, ...shared }: NestInsideProps) {
  const nests = useEditor((s) => s.session?.current.piece.nests);
  const media = useEditor((s) => s.session?.current.piece.media);
  const nest = nests?.[clip.media];
  if (!nest || !media) return null;
  return <Inside nest={nest} media={media} outer={clip} from={shared.kind === 'sound' ? soundSpan(clip).start : clip.start} {...shared} />;
}

interface InsideProps extends Omit<NestInsideProps, 'clip'> {
  nest: Timeline;
  media: Piece['media'];
  /** The clip that shows it, and the time of that one's timeline at its top. */
  outer: Clip;
  from: Flicks;
}

function Inside({ nest, media, outer, from, kind, zoom, width, viewTop, viewBottom }: InsideProps) {
  const tracks = kind === 'sound' ? heardTracks(nest) : seenTracks(nest);
  const top = (clip: Clip) => toPixels(clip.start - from, zoom);
  const shows = (clip: Clip, facts: MediaFacts | undefined) =>
    facts !== undefined && isFile(facts) && (kind === 'picture' || isHeard(clip, facts));
  const seen = tracks
    .flatMap((track) => track.clips.map((clip) => seenThrough(outer, clip)))
    .filter((clip) => shows(clip, media[clip.media]) && top(clip) < viewBottom && toPixels(clipEnd(clip) - from, zoom) > viewTop);
  const byId = useMediaOf(seen.map((clip) => clip.media));
  return (
    <>
      {seen.map((clip) => {
        const item = byId.get(clip.media);
        const facts = media[clip.media];
        const height = toPixels(clip.length, zoom);
        const view = { viewTop: Math.max(0, viewTop - top(clip)), viewBottom: Math.min(height, viewBottom - top(clip)) };
        return (
          <div key={clip.id} style={{ position: 'absolute', top: top(clip), left: 0, width, height, overflow: 'hidden' }}>
            <Material clip={clip} media={facts} item={item} kind={kind} tone={toneOf(facts)} zoom={zoom} width={width} {...view} />
          </div>
        );
      })}
    </>
  );
}
