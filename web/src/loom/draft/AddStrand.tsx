import { Plus } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useApp } from '../../store/store';
import { addStrand } from '../edit';
import { formulaStarts } from '../formula/starts';
import { useStacks } from '../stacks-context';

const ITEM =
  'flex cursor-pointer items-baseline gap-3 rounded-md px-2.5 py-1.5 outline-none data-[highlighted]:bg-shelf data-[disabled]:opacity-40';

/** Adds a strand: from a stack, as a mix or an average of the others, or as a copy of one. It goes below the last. */
export function AddStrand({ x, y }: { x: number; y: number }) {
  const recipe = useApp((state) => state.draft.recipe);
  const stacks = useStacks();
  if (!recipe) return null;
  const ids = recipe.strands.map((strand) => strand.id);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <button
          type="button"
          className="absolute z-10 inline-flex h-6 -translate-y-1/2 items-center gap-1 rounded-[7px] border border-dashed border-rim px-2 text-[12px] text-hush hover:border-lamp hover:text-lamp"
          style={{ left: x, top: y }}
        >
          <Plus size={12} /> strand
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          side="top"
          align="start"
          sideOffset={8}
          collisionPadding={8}
          className="z-40 max-h-96 w-64 overflow-y-auto rounded-lg border border-rim bg-board p-1 shadow-2xl"
        >
          {stacks.map((stack) => (
            <DropdownMenu.Item
              key={stack.id}
              className={ITEM}
              onSelect={() => addStrand(stack.name, { stack: stack.name })}
            >
              <span className="font-medium">{stack.name}</span>
              <span className="truncate text-[12.5px] text-hush">{stack.fileName}</span>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-edge" />
          <DropdownMenu.Item
            className={ITEM}
            disabled={ids.length === 0}
            onSelect={() =>
              addStrand('mix', {
                mix: { red: { [ids[0]]: 1 }, green: { [ids[0]]: 1 }, blue: { [ids[0]]: 1 } },
                weights: 'as-is',
              })
            }
          >
            <span className="font-medium">mix</span>
            <span className="text-[12.5px] text-hush">several strands in one colour image</span>
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={ITEM}
            disabled={ids.length < 2}
            onSelect={() => addStrand('average', { average: ids.slice(0, 2), by: 'signal' })}
          >
            <span className="font-medium">average</span>
            <span className="text-[12.5px] text-hush">several strands as one</span>
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={ITEM}
            disabled={ids.length === 0}
            onSelect={() => addStrand('formula', { formula: ids.length > 0 ? formulaStarts(ids)[0].text : '0' })}
          >
            <span className="font-medium">formula</span>
            <span className="text-[12.5px] text-hush">strands by your own arithmetic</span>
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
