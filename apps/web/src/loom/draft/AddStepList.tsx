import { Command } from 'cmdk';
import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import type { PathInfo } from '../../../worker/protocol';
import { elsewhere, meantScore, addableSteps } from './step-list';

/** The steps that can stand at a place, grouped by what they are for and found by the trade's words; hung on whatever opens them. */
export function AddStepList({
  image,
  forMask = false,
  onAdd,
  onOpenChange,
  side = 'bottom',
  children,
}: {
  /** What comes into the new step, as far as it is known. */
  image: PathInfo | undefined;
  forMask?: boolean;
  onAdd: (kind: string) => void;
  onOpenChange?: (open: boolean) => void;
  side?: 'top' | 'bottom';
  children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const place = elsewhere(typed);
  const change = (next: boolean): void => {
    setTyped('');
    setOpen(next);
    onOpenChange?.(next);
  };
  return (
    <Popover.Root open={open} onOpenChange={change}>
      <Popover.Trigger asChild>{children}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side={side}
          align="start"
          sideOffset={8}
          collisionPadding={8}
          className="z-40 w-[27rem] overflow-hidden rounded-lg border border-rim bg-board shadow-2xl"
          onKeyDown={(event) => event.stopPropagation()}
        >
          <Command
            label="Steps"
            filter={(value, typed) => {
              const kind = STEP_SPECS.get(value);
              return kind ? meantScore(kind, typed) : 0;
            }}
          >
            <Command.Input
              value={typed}
              onValueChange={setTyped}
              placeholder="Search steps, e.g. “remove stars”"
              className="h-10 w-full border-b border-edge bg-transparent px-3.5 outline-none placeholder:text-hush"
            />
            <Command.List className="max-h-[24rem] overflow-y-auto p-1">
              {place && <p className="px-3 pt-2.5 pb-1 text-[12.5px] text-lamp">{place}</p>}
              {!place && (
                <Command.Empty className="px-3 py-4 text-[12.5px] text-hush">
                  No step matches. Try another word.
                </Command.Empty>
              )}
              {addableSteps(image, forMask).map(({ name, steps }) => (
                <Command.Group
                  key={name}
                  heading={name}
                  className="[&_[cmdk-group-heading]]:px-2.5 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-[11.5px] [&_[cmdk-group-heading]]:text-hush"
                >
                  {steps.map(({ kind, takes, but, cannot }) => (
                    <Command.Item
                      key={kind.do}
                      value={kind.do}
                      disabled={cannot !== undefined}
                      onSelect={() => {
                        change(false);
                        onAdd(kind.do);
                      }}
                      className={`flex cursor-pointer items-baseline gap-3 rounded-md px-2.5 py-1.5 outline-none data-[selected=true]:bg-shelf ${but || cannot ? 'opacity-55' : ''}`}
                    >
                      <span className="w-26 shrink-0 font-medium">{kind.name}</span>
                      <span className="grow text-[12.5px] text-hush">{cannot ?? but ?? kind.summary}</span>
                      {takes && !but && !cannot && <span className="shrink-0 text-[11.5px] text-hush">{takes}</span>}
                    </Command.Item>
                  ))}
                </Command.Group>
              ))}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
