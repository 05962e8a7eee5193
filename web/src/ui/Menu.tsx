import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

export interface MenuItem {
  readonly label: string;
  /** A line below the label. */
  readonly says?: string;
  readonly danger?: boolean;
  readonly onSelect: () => void;
}

/** A short list of things to do, hung on whatever opens it. */
export function Menu({
  items,
  align = 'start',
  children,
}: {
  items: readonly MenuItem[];
  align?: 'start' | 'end';
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{children}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align={align}
          sideOffset={6}
          collisionPadding={8}
          className="z-40 min-w-40 max-w-72 rounded-lg border border-rim bg-board p-1 shadow-2xl"
        >
          {items.map((item) => (
            <DropdownMenu.Item
              key={item.label}
              onSelect={item.onSelect}
              className={`cursor-pointer rounded-md px-2.5 py-1.5 outline-none data-[highlighted]:bg-shelf ${item.danger ? 'text-ember' : ''}`}
            >
              {item.says ? <span className="block font-medium">{item.label}</span> : item.label}
              {item.says && <span className="block text-[12.5px] text-hush">{item.says}</span>}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
