import { Check } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { Fragment, type KeyboardEvent, type MouseEvent, type ReactNode } from 'react';

export interface MenuItem {
  readonly label: string;
  /** A line below the label. */
  readonly says?: string;
  readonly danger?: boolean;
  readonly disabled?: boolean;
  /** A line above it: something else begins here. */
  readonly apart?: boolean;
  /** Whether it is among those that are chosen together; left out where several cannot be. */
  readonly ticked?: boolean;
  /** Takes it among them or out of them, while the list stays open. */
  readonly onTick?: () => void;
  readonly onSelect: () => void;
}

/** The box of an entry that can be chosen together with others. */
const TickBox = ({ label, ticked }: { label: string; ticked: boolean }) => (
  <span
    data-tick
    title={`Select ${label} together with others (Space)`}
    className={`flex size-4 shrink-0 translate-y-0.5 items-center justify-center rounded-sm border ${ticked ? 'border-lamp bg-lamp text-pit' : 'border-rim hover:border-lamp'}`}
  >
    {ticked && <Check size={12} strokeWidth={3} />}
  </span>
);

/** What an entry needs to be ticked: by its box, or by the space bar. */
const tickable = (ticked: boolean, onTick: () => void) => ({
  role: 'menuitemcheckbox',
  'aria-checked': ticked,
  onClick: (event: MouseEvent) => {
    if (!(event.target as Element).closest('[data-tick]')) return;
    event.preventDefault();
    onTick();
  },
  onKeyDown: (event: KeyboardEvent) => {
    if (event.key !== ' ') return;
    event.preventDefault();
    onTick();
  },
});

/**
 * A list of things to do, hung on whatever opens it.
 * @param inRow whether what an item says stands beside its label instead of below it
 */
export function Menu({
  items,
  side = 'bottom',
  align = 'start',
  inRow = false,
  onOpenChange,
  children,
}: {
  items: readonly MenuItem[];
  side?: 'top' | 'bottom' | 'left';
  align?: 'start' | 'end';
  inRow?: boolean;
  onOpenChange?: (open: boolean) => void;
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Root onOpenChange={onOpenChange}>
      <DropdownMenu.Trigger asChild>{children}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          side={side}
          align={align}
          sideOffset={6}
          collisionPadding={8}
          className={`z-40 max-h-96 overflow-y-auto rounded-lg border border-rim bg-board p-1 shadow-2xl ${inRow ? 'w-72' : 'min-w-40 max-w-72'}`}
        >
          {items.map(({ label, says, danger, disabled, apart, ticked, onTick, onSelect }) => (
            <Fragment key={`${label} ${says ?? ''}`}>
              {apart && <DropdownMenu.Separator className="my-1 h-px bg-edge" />}
              <DropdownMenu.Item
                disabled={disabled}
                onSelect={onSelect}
                {...(onTick && tickable(ticked === true, onTick))}
                className={`cursor-pointer rounded-md px-2.5 py-1.5 outline-none data-[disabled]:opacity-40 data-[highlighted]:bg-shelf ${inRow ? 'flex items-baseline gap-3' : ''} ${danger ? 'text-ember' : ''}`}
              >
                {onTick && <TickBox label={label} ticked={ticked === true} />}
                {says ? (
                  <span className={inRow ? 'font-medium whitespace-nowrap' : 'block font-medium'}>{label}</span>
                ) : (
                  label
                )}
                {says && <span className={`text-[12.5px] text-hush ${inRow ? 'truncate' : 'block'}`}>{says}</span>}
              </DropdownMenu.Item>
            </Fragment>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
