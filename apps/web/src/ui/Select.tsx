import { Check, ChevronDown } from 'lucide-react';
import { Select } from 'radix-ui';
import { sentenceCase } from './sentence-case';

export interface PickOption<T extends string> {
  readonly value: T;
  readonly label: string;
  /** Heading under which it stands, with its neighbours of the same. */
  readonly group?: string;
}

/** Options in their order, parted wherever the heading changes. */
function grouped<T extends string>(options: readonly PickOption<T>[]) {
  const groups: { heading: string | undefined; of: PickOption<T>[] }[] = [];
  for (const option of options) {
    const last = groups.at(-1);
    if (last && last.heading === option.group) last.of.push(option);
    else groups.push({ heading: option.group, of: [option] });
  }
  return groups;
}

/** A choice from a list that is too long to lie open. */
export function Pick<T extends string>({
  label,
  value,
  options,
  onChange,
  onOpen,
}: {
  label: string;
  value: T | undefined;
  options: readonly PickOption<T>[];
  onChange: (value: T) => void;
  onOpen?: () => void;
}) {
  return (
    <div className="flex items-center justify-between gap-3">
      <span className={`text-soft ${sentenceCase(label)}`}>{label}</span>
      <Select.Root
        value={value}
        onValueChange={(next) => onChange(next as T)}
        onOpenChange={(open) => open && onOpen?.()}
      >
        <Select.Trigger
          aria-label={label}
          // A letter is one of the screen's keys, not the first of an option that lies closed.
          onKeyDown={(event) => event.key.length === 1 && event.key !== ' ' && event.preventDefault()}
          className="flex h-7 min-w-28 items-center justify-between gap-2 rounded-md border border-edge bg-pit px-2.5 hover:border-rim"
        >
          <Select.Value placeholder="Choose" />
          <Select.Icon>
            <ChevronDown size={13} className="text-hush" />
          </Select.Icon>
        </Select.Trigger>
        <Select.Portal>
          <Select.Content
            position="popper"
            sideOffset={4}
            className="z-50 max-h-80 overflow-y-auto rounded-lg border border-rim bg-board p-1 shadow-2xl"
          >
            <Select.Viewport>
              {grouped(options).map(({ heading, of }) => (
                <Select.Group key={heading ?? ''}>
                  {heading && <Select.Label className="px-2.5 pt-2 pb-1 text-[12px] text-hush">{heading}</Select.Label>}
                  {of.map((option) => (
                    <Select.Item
                      key={option.value}
                      value={option.value}
                      className="flex cursor-pointer items-center justify-between gap-4 rounded-md px-2.5 py-1.5 outline-none data-[highlighted]:bg-shelf"
                    >
                      <Select.ItemText>{option.label}</Select.ItemText>
                      <Select.ItemIndicator>
                        <Check size={13} className="text-lamp" />
                      </Select.ItemIndicator>
                    </Select.Item>
                  ))}
                </Select.Group>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
    </div>
  );
}
