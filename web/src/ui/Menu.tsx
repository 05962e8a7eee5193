import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

export interface MenuItem {
  readonly label: string;
  readonly danger?: boolean;
  readonly onSelect: () => void;
}

/** A short list of things to do, hung on whatever opens it. */
export function Menu({ items, children }: { items: readonly MenuItem[]; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{children}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          className="z-40 min-w-40 rounded-lg border border-rim bg-board p-1 shadow-2xl"
        >
          {items.map((item) => (
            <DropdownMenu.Item
              key={item.label}
              onSelect={item.onSelect}
              className={`cursor-pointer rounded-md px-2.5 py-1.5 outline-none data-[highlighted]:bg-shelf ${item.danger ? 'text-ember' : ''}`}
            >
              {item.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
