import { useParams } from 'react-router';
import { byFilter } from '../../../../core/stack/filter';
import { useApp } from '../../store/store';
import { Menu } from '../../ui/Menu';
import { addStacks } from '../add-stacks';
import { addStrand } from '../edit';
import { formulaStarts } from '../formula/starts';
import { useStacks } from '../stacks-context';
import { AddButton } from './AddButton';

/** Adds a strand: from a stack, or from the others as a mix, an average or by formula. It goes below the last. */
export function AddStrand({ x, y }: { x: number; y: number }) {
  const recipe = useApp((state) => state.draft.recipe);
  const stacks = useStacks();
  const { id: target = '' } = useParams();
  if (!recipe) return null;
  const ids = recipe.strands.map((strand) => strand.id);
  const sorted = [...stacks].sort((a, b) => byFilter(a.filter, b.filter));
  const inUse = recipe.strands.flatMap(({ from }) => ('stack' in from ? [from.stack] : []));
  const unused = sorted.map(({ name }) => name).filter((name) => !inUse.includes(name));
  return (
    <Menu
      side="top"
      inRow
      items={[
        ...sorted.map(({ name, fileName }) => ({
          label: name,
          says: fileName,
          onSelect: () => void addStacks(target, [name]),
        })),
        ...(unused.length > 1
          ? [
              {
                label: `all ${unused.length}`,
                says: `not in use yet: ${unused.join(', ')}`,
                onSelect: () => void addStacks(target, unused),
              },
            ]
          : []),
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
