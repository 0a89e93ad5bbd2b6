import {
  clipEnd,
  findClip,
  isFile,
  isHeard,
  isStill,
  materialIn,
  apartBy,
  speedOf,
  type Clip,
  type Piece,
  type Track,
} from '@flimzy/core/piece';
import { overlayName } from '@flimzy/core/properties';
import { formatSigned, formatTimecode, frameLength, parseSigned, parseTimecode, rateName } from '@flimzy/core/time';
import { memo } from 'react';
import { View } from 'react-native';
import { useDebounce } from 'use-debounce';
import { Button } from '../look/Button';
import { FigureField } from '../look/Field';
import { Text } from '../look/Text';
import { ClipMeter } from '../preview/Meter';
import { PropertyFigures } from './PropertyFigures';
import { actionOf } from '../open/actions';
import { edit, useEditor, usePiece, useSettledPiece } from '../open/editor';
import { SpeedField } from '../speed/SpeedField';

const NO_TIME = 'Write a time as seconds.frames, such as 4.12.';

/** How far behind a finger the figures of the card may be, in ms: drawn at every move they would hold up the timeline. */
const BEHIND = 120;

/** The figures of what is selected; each can be typed. While something is dragged they follow it. */
export function Card() {
  const settled = useSettledPiece();
  const dragged = usePiece();
  const [lately] = useDebounce(dragged, BEHIND, { maxWait: BEHIND });
  const selected = useEditor((s) => s.selected);
  return <Figures piece={dragged === settled ? settled : lately} selected={selected} />;
}

const Figures = memo(function Figures({ piece, selected }: { piece: Piece | null; selected: readonly string[] }) {
  if (!piece || selected.length === 0) return null;
  if (selected.length > 1) return <SeveralCard piece={piece} selected={selected} />;
  const found = findClip(piece, selected[0] ?? '');
  return found ? <ClipCard piece={piece} clip={found.clip} track={found.track} /> : null;
});

/** Whether a clip has a picture, or a sound, of its own to set something of. */
const hasSide = (piece: Piece, { clip, track }: { clip: Clip; track: Track }, side: 'picture' | 'sound') =>
  side === 'sound' ? isHeard(clip, piece.media[clip.media]) : track.kind === 'picture';

function SeveralCard({ piece, selected }: { piece: Piece; selected: readonly string[] }) {
  const found = selected.flatMap((id) => findClip(piece, id) ?? []);
  const clips = found.map(({ clip }) => clip);
  const { rate } = piece.format;
  const total = clips.reduce((sum, clip) => sum + clip.length, 0);
  return (
    <View testID="card" className="rounded-2xl bg-panel px-3 pb-1 pt-2.5">
      <Text kind="heading" className="mb-2 text-[15px]">
        {clips.length} clips
      </Text>
      <FigureField label="Together" value={formatTimecode(total, rate)} />
      <FigureField label="From" value={formatTimecode(Math.min(...clips.map((c) => c.start)), rate)} />
      <FigureField label="To" value={formatTimecode(Math.max(...clips.map(clipEnd)), rate)} />
      <PropertyFigures clips={clips} has={(side) => found.every((one) => hasSide(piece, one, side))} />
    </View>
  );
}

/** How many clips are ganged with one, itself counted. */
const gangSize = (piece: Piece, { gang }: Clip) => piece.tracks.flatMap((track) => track.clips).filter((one) => one.gang === gang).length;

function ClipCard({ piece, clip, track }: { piece: Piece; clip: Clip; track: Track }) {
  const rest = useEditor((s) => s.rest);
  const reach = useEditor((s) => s.reach);
  const { rate } = piece.format;
  const frame = frameLength(rate);
  const media = piece.media[clip.media];
  const end = clipEnd(clip);
  const offset = clip.link ? apartBy(piece, clip) : 0;
  const heard = isHeard(clip, media);
  const fits = media && media.width > 0 ? media.width * piece.format.height === media.height * piece.format.width : true;

  const start = (text: string) => {
    const to = parseTimecode(text, rate, clip.start);
    if (to === null || to < 0) return NO_TIME;
    return edit('move', { clips: [clip.id], track: track.id, to, how: 'place', rest: 'leave' }) ? null : 'It does not fit there.';
  };
  const length = (text: string) => {
    const to = parseTimecode(text, rate, clip.length);
    if (to === null || to <= 0) return NO_TIME;
    return edit('trim', { clip: clip.id, edge: 'tail', to: clip.start + to, rest, tracks: reach }) ? null : 'It cannot be that long.';
  };
  const slipTo = (text: string) => {
    const to = parseTimecode(text, rate, materialIn(clip));
    if (to === null || to < 0) return NO_TIME;
    return edit('slip', { clips: [clip.id], by: to - materialIn(clip) }) ? null : 'There is not so much material.';
  };
  const soundTo = (edge: 'head' | 'tail') => (text: string) => {
    const by = parseSigned(text, piece.format.rate);
    if (by === null) return 'Write how much earlier (−) or later, such as −0.10.';
    return edit('soundEdge', { clip: clip.id, edge, to: (edge === 'head' ? clip.start : end) + by }) ? null : 'It cannot go there.';
  };
  return (
    <View testID="card" className="rounded-2xl bg-panel px-3 pb-1 pt-2.5">
      <Text kind="heading" numberOfLines={1} className="mb-2 text-[15px]">
        {clip.overlay ? overlayName(clip.overlay) : clip.name}
      </Text>
      {offset !== 0 ? (
        <View className="gap-1.5 pb-2">
          <Text kind="small" className="text-warn">
            {Math.abs(Math.round(offset / frame))} frames {offset > 0 ? 'late' : 'early'}
          </Text>
          <Button label="Bring in step" onPress={actionOf('in-step').run} testID="in-step" />
        </View>
      ) : null}
      {heard ? <ClipMeter clip={clip.id} /> : null}
      <FigureField label="Starts" testID="card-start" value={formatTimecode(clip.start, rate)} onSubmit={start} />
      <FigureField
        label="Length"
        testID="card-length"
        value={formatTimecode(clip.length, rate)}
        onSubmit={length}
        onStep={(by) => edit('trim', { clip: clip.id, edge: 'tail', to: end + by * frame, rest, tracks: reach })}
      />
      {media && !isStill(clip, media) ? (
        <FigureField
          label="From"
          testID="card-from"
          value={formatTimecode(materialIn(clip), rate)}
          onSubmit={slipTo}
          onStep={(by) => edit('slip', { clips: [clip.id], by: by * frame })}
        />
      ) : null}
      {media && !isStill(clip, media) ? (
        <SpeedField
          testID="card-speed"
          value={speedOf(clip)}
          onChange={(speed) => edit('setSpeed', { clips: [clip.id], wish: { speed }, rest, tracks: reach })}
        />
      ) : null}
      <PropertyFigures clips={[clip]} has={(side) => hasSide(piece, { clip, track }, side)} />
      {heard && track.kind === 'picture' ? (
        <>
          <FigureField
            label="Sound in"
            testID="card-sound-in"
            value={formatSigned(-(clip.lead ?? 0), piece.format.rate)}
            onSubmit={soundTo('head')}
          />
          <FigureField
            label="Sound out"
            testID="card-sound-out"
            value={formatSigned(clip.trail ?? 0, piece.format.rate)}
            onSubmit={soundTo('tail')}
          />
        </>
      ) : null}
      {track.kind === 'picture' && media && isFile(media) && !fits ? (
        <FigureField label="Fits by" value={clip.fit === 'fill' ? 'fill' : clip.backdrop === 'blur' ? 'fit, blur' : 'fit, black'} />
      ) : null}
      {media?.kind === 'video' && media.rate ? <FigureField label="Rate" value={`${rateName(media.rate)} fps`} /> : null}
      {clip.gang !== undefined ? <FigureField label="Ganged" value={`with ${gangSize(piece, clip) - 1}`} /> : null}
      {clip.link ? <FigureField label="Linked" value={offset === 0 ? 'in step' : 'apart'} /> : null}
    </View>
  );
}
