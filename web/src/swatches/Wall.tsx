import { formatDistanceToNow } from 'date-fns';
import { useState } from 'react';
import { useDropSwatchMutation } from '../store/api';
import type { SwatchRow } from '../store/rows';
import { tell } from '../store/tell';
import { Confirm } from '../ui/Confirm';
import { swatchPicture } from './pictures';
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
  const [drop] = useDropSwatchMutation();
  const [going, setGoing] = useState<SwatchRow>();
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
      onRemove: () => setGoing(swatch),
    };
  });
  return (
    <div tabIndex={0} className="min-h-0 grow overflow-y-auto px-4 pb-4">
      <Tiles kind="swatch" {...{ tiles, chosen, against, onChoose, onAgainst }} />
      <Confirm
        open={going !== undefined}
        title={`Remove the swatch ${going?.name ?? ''}?`}
        says="Its picture and the state that it keeps go with it. The recipe stays as it is."
        action="Remove it"
        onConfirm={() => {
          if (going) void drop(going.id).then(tell);
          setGoing(undefined);
        }}
        onClose={() => setGoing(undefined)}
      />
    </div>
  );
}
