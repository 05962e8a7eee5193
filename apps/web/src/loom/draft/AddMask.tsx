import { useAppSelector } from '../../store/store';
import { Menu } from '../../ui/Menu';
import { startMask, useMaskStarts } from '../../session/mask-presets';
import { AddButton } from './AddButton';

/** Adds a shared mask, which layers and steps can then be seen through. */
export function AddMask({ x, y }: { x: number; y: number }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const starts = useMaskStarts();
  if (!recipe) return null;
  return (
    <Menu items={starts.map((start) => ({ label: start.label, onSelect: () => startMask(start) }))}>
      <AddButton word="mask" x={x} y={y} />
    </Menu>
  );
}
