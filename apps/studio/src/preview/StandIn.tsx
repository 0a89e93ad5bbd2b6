import { evaluate, lastShown, pictureLayers, sourceTile } from '@flimzy/core/frame';
import { useMediaOf } from '../api/queries';
import { StripPicture } from '../material/StripPicture';
import { useEditor, useSettledPiece } from '../open/editor';

/**
 * The frame at the playhead from the filmstrips, until the first one is decoded: coarse, but the right picture in the right place,
 * and there at once.
 */
export function StandIn({ width, height }: { width: number; height: number }) {
  const piece = useSettledPiece();
  const playhead = useEditor((s) => s.playhead);
  const layers = piece ? pictureLayers(evaluate(piece, lastShown(piece, playhead)).layers).filter((layer) => layer.kind === 'picture') : [];
  const items = useMediaOf(layers.map((layer) => layer.picture.media));
  if (!piece) return null;
  const scale = width / piece.format.width;
  return (
    <div
      data-testid="stand-in"
      aria-hidden
      style={{ position: 'absolute', top: 0, left: 0, width, height, overflow: 'hidden', background: '#000' }}
    >
      {layers.map(({ picture, rect, opacity }) => {
        const strip = items.get(picture.media)?.filmstrip;
        if (!strip) return null;
        const n = sourceTile(strip, picture.time);
        return (
          <StripPicture
            key={picture.clip}
            media={picture.media}
            strip={strip}
            n={n}
            width={rect.width * scale}
            height={rect.height * scale}
            style={{ left: rect.x * scale, top: rect.y * scale, opacity }}
          />
        );
      })}
    </div>
  );
}
