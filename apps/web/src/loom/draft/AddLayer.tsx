import { useAppSelector } from '../../store/store';
import { Menu } from '../../ui/Menu';
import { addLayer, LAYER_KINDS } from '../../document/edit-layers';
import { AddButton } from './AddButton';

/** Adds a layer. While its list is open, the place where it will lie is seen. */
export function AddLayer({
  x,
  y,
  list,
  index,
  onOpenChange,
}: {
  x: number;
  y: number;
  /** The room, and the place in it where the layer will lie. */
  list: string;
  index: number;
  onOpenChange: (open: boolean) => void;
}) {
  const strands = useAppSelector((state) => state.draft.recipe?.strands.length ?? 0);
  return (
    <Menu
      side="left"
      align="end"
      inRow
      onOpenChange={onOpenChange}
      items={LAYER_KINDS.map(({ kind, label, says }) => ({
        label,
        says,
        disabled: (kind === 'below' && index === 0) || (kind !== 'colour' && strands === 0),
        onSelect: () => addLayer(kind, list, index),
      }))}
    >
      <AddButton word="layer" x={x} y={y} />
    </Menu>
  );
}
