import { formatDistanceToNow } from 'date-fns';
import { moveToTrash } from '../store/trash-actions';
import type { SwatchRow } from '@owl-loom/api/swatches';
import { swatchPicture } from '../store/thumbnail-urls';
import { type Tile, Tiles } from './Tiles';

/** The wall: every kept state by its picture. */
export function Wall({
  swatches,
  chosen,
  against,
  onChoose,
  onAgainst,
}: {
  swatches: readonly SwatchRow[];
  chosen: string | undefined;
  against: readonly string[];
  onChoose: (id: string) => void;
  onAgainst: (id: string) => void;
}) {
  const tiles = swatches.map((swatch): Tile => {
    const { id, name, note, picture, trouble, createdAt } = swatch;
    return {
      id,
      name,
      title: note || name,
      picture: swatchPicture(picture),
      empty: trouble ? 'no picture' : 'weaving …',
      bare: true,
      note: note || `${formatDistanceToNow(new Date(createdAt))} ago`,
      onRemove: () => void moveToTrash('swatch', id, name),
    };
  });
  return (
    <div tabIndex={0} className="min-h-0 grow overflow-y-auto px-4 pb-4">
      <Tiles kind="swatch" {...{ tiles, chosen, against, onChoose, onAgainst }} />
    </div>
  );
}
