import { Check, ChevronDown } from 'lucide-react';
import { Select } from 'radix-ui';

/** A choice from a list that is too long to lie open. */
export function Pick<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T | undefined;
  options: readonly { value: T; label: string }[];
  onChange: (value: T) => void;
}) {
  return (
    <div className="flex items-center justify-between gap-3">
      <span className="text-soft">{label}</span>
      <Select.Root value={value} onValueChange={(next) => onChange(next as T)}>
        <Select.Trigger
          aria-label={label}
          className="flex h-7 min-w-28 items-center justify-between gap-2 rounded-md border border-edge bg-pit px-2.5 hover:border-rim"
        >
          <Select.Value placeholder="choose" />
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
              {options.map((option) => (
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
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
    </div>
  );
}
