import { useState } from 'react';
import { useParams } from 'react-router';
import { compareFilters } from '@owl-loom/image/metadata/filter';
import { useAppSelector } from '../../store/store';
import { Menu } from '../../ui/Menu';
import { addStacks } from '../../document/add-stacks';
import { addStrand } from '../../document/edit';
import { formulaStarts } from '../formula/formula-presets';
import { useStacks } from '../../session/stacks-context';
import { AddButton } from './AddButton';

/** Adds strands: from a stack or several at once, or from the others as a mix, an average or by formula. It goes below the last. */
export function AddStrand({ x, y }: { x: number; y: number }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const stacks = useStacks();
  const { id: target = '' } = useParams();
  const [ticked, setTicked] = useState<readonly string[]>([]);
  if (!recipe) return null;
  const ids = recipe.strands.map((strand) => strand.id);
  const sorted = [...stacks].sort((a, b) => compareFilters(a.filter, b.filter));
  const inUse = recipe.strands.flatMap(({ from }) => ('stack' in from ? [from.stack] : []));
  const unused = sorted.map(({ name }) => name).filter((name) => !inUse.includes(name));
  // In the order of filters, whichever was ticked first.
  const chosen = sorted.map(({ name }) => name).filter((name) => ticked.includes(name));
  const together = chosen.length > 0 ? chosen : unused.length > 1 ? unused : [];
  return (
    <Menu
      side="top"
      inRow
      onOpenChange={() => setTicked([])}
      items={[
        ...sorted.map(({ name, fileName }) => ({
          label: name,
          says: fileName,
          ticked: ticked.includes(name),
          onTick: () => setTicked((all) => (all.includes(name) ? all.filter((one) => one !== name) : [...all, name])),
          onSelect: () => void addStacks(target, [name]),
        })),
        ...(together.length > 0
          ? [
              {
                label: chosen.length > 0 ? `add ${together.length}` : `all ${together.length}`,
                says: `${chosen.length > 0 ? '' : 'not in use yet: '}${together.join(', ')}`,
                onSelect: () => void addStacks(target, together),
              },
            ]
          : []),
        {
          label: 'tie-up',
          says: 'weighted strands to R, G, B',
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
          says: 'weighted mean of strands',
          disabled: ids.length < 2,
          onSelect: () => addStrand('average', { average: ids.slice(0, 2), by: 'signal' }),
        },
        {
          label: 'formula',
          says: 'a formula over strands',
          disabled: ids.length === 0,
          onSelect: () => addStrand('formula', { formula: ids.length > 0 ? formulaStarts(ids)[0].text : '0' }),
        },
      ]}
    >
      <AddButton word="strand" x={x} y={y} />
    </Menu>
  );
}
