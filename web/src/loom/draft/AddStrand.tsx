import { useApp } from '../../store/store';
import { Menu } from '../../ui/Menu';
import { addStrand } from '../edit';
import { formulaStarts } from '../formula/starts';
import { useStacks } from '../stacks-context';
import { AddButton } from './AddButton';

/** Adds a strand: from a stack, or from the others as a mix, an average or by formula. It goes below the last. */
export function AddStrand({ x, y }: { x: number; y: number }) {
  const recipe = useApp((state) => state.draft.recipe);
  const stacks = useStacks();
  if (!recipe) return null;
  const ids = recipe.strands.map((strand) => strand.id);
  return (
    <Menu
      side="top"
      inRow
      items={[
        ...stacks.map(({ name, fileName }) => ({
          label: name,
          says: fileName,
          onSelect: () => addStrand(name, { stack: name }),
        })),
        {
          label: 'mix',
          says: 'several strands in one colour image',
          apart: true,
          disabled: ids.length === 0,
          onSelect: () =>
            addStrand('mix', {
              mix: { red: { [ids[0]]: 1 }, green: { [ids[0]]: 1 }, blue: { [ids[0]]: 1 } },
              weights: 'as-is',
            }),
        },
        {
          label: 'average',
          says: 'several strands as one',
          disabled: ids.length < 2,
          onSelect: () => addStrand('average', { average: ids.slice(0, 2), by: 'signal' }),
        },
        {
          label: 'formula',
          says: 'strands by your own arithmetic',
          disabled: ids.length === 0,
          onSelect: () => addStrand('formula', { formula: ids.length > 0 ? formulaStarts(ids)[0].text : '0' }),
        },
      ]}
    >
      <AddButton word="strand" x={x} y={y} />
    </Menu>
  );
}
