import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { STEP_KINDS } from '../../../../core/steps/index';

/** The kinds that take a mono image, or a colour one. */
const kindsFor = (mono: boolean) =>
  [...STEP_KINDS.values()].filter(({ takes }) => takes.planes === 'either' || (takes.planes === 'mono') === mono);

/** The list of step kinds, hung on whatever opens it. */
export function AddStepList({
  mono,
  onAdd,
  onOpenChange,
  side = 'bottom',
  children,
}: {
  mono: boolean;
  onAdd: (kind: string) => void;
  onOpenChange?: (open: boolean) => void;
  side?: 'top' | 'bottom';
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Root onOpenChange={onOpenChange}>
      <DropdownMenu.Trigger asChild>{children}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          side={side}
          align="start"
          sideOffset={8}
          collisionPadding={8}
          className="z-40 max-h-[26rem] w-[25rem] overflow-y-auto rounded-lg border border-rim bg-board p-1 shadow-2xl"
        >
          {kindsFor(mono).map((step) => (
            <DropdownMenu.Item
              key={step.do}
              onSelect={() => onAdd(step.do)}
              className="flex cursor-pointer items-baseline gap-3 rounded-md px-2.5 py-1.5 outline-none data-[highlighted]:bg-shelf"
            >
              <span className="w-26 shrink-0 font-medium">{step.name}</span>
              <span className="text-[12.5px] text-hush">{step.says}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
