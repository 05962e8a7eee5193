import { Tooltip } from 'radix-ui';
import { numberFrom } from './arithmetic';
import { type ButtonHTMLAttributes, type ReactNode, useEffect, useId, useState } from 'react';
import { sentenceCase } from './sentence-case';
import { clamp } from '@owl-loom/base/clamp';

type ButtonProps = ButtonHTMLAttributes<HTMLButtonElement> & {
  look?: 'plain' | 'lamp' | 'quiet' | 'danger';
  small?: boolean;
};

const LOOKS = {
  plain: 'bg-shelf hover:bg-edge text-text border border-edge',
  lamp: 'bg-lamp hover:brightness-110 text-black border border-transparent font-semibold',
  quiet: 'bg-transparent hover:bg-shelf text-soft hover:text-text border border-transparent',
  danger: 'bg-shelf hover:bg-ember hover:text-black text-ember border border-edge',
};

export function Button({ look = 'plain', small = false, className = '', type = 'button', ...rest }: ButtonProps) {
  return (
    <button
      type={type}
      className={`inline-flex items-center justify-center gap-1.5 rounded-md whitespace-nowrap transition-colors disabled:opacity-40 disabled:pointer-events-none ${small ? 'h-7 px-2.5 text-[12.5px]' : 'h-8 px-3.5'} ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}

/** A button that is only an icon; its name shows when the pointer rests on it. */
export function IconButton({
  label,
  children,
  active = false,
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { label: string; active?: boolean }) {
  return (
    <Hint text={label}>
      <button
        type="button"
        aria-label={label}
        aria-pressed={active || undefined}
        className={`inline-flex size-7 items-center justify-center rounded-md transition-colors disabled:opacity-30 ${active ? 'bg-lamp text-black' : 'text-soft hover:bg-shelf hover:text-text'} ${className}`}
        {...rest}
      >
        {children}
      </button>
    </Hint>
  );
}

export function Hint({ text, children }: { text: ReactNode; children: ReactNode }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={6}
          collisionPadding={8}
          className="z-50 max-w-72 rounded-md border border-rim bg-shelf px-2.5 py-1.5 text-[12.5px] leading-snug text-text shadow-xl"
        >
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

export interface NumberFieldProps {
  label: string;
  value: number | undefined;
  onChange: (value: number | undefined) => void;
  onCommit?: () => void;
  /** What stands there while nothing is given. */
  placeholder?: string;
  optional?: boolean;
  min?: number;
  max?: number;
  digits?: number;
  hideLabel?: boolean;
  className?: string;
}

/** A number typed in, or a sum that comes to one; it counts when it is left or Enter is pressed, and what is no number goes back to what was. */
export function NumberField({
  label,
  value,
  onChange,
  onCommit,
  placeholder,
  optional = false,
  min = -Infinity,
  max = Infinity,
  digits = 6,
  hideLabel = false,
  className = '',
}: NumberFieldProps) {
  const id = useId();
  const shown = value === undefined ? '' : String(Number(value.toPrecision(digits)));
  const [text, setText] = useState(shown);
  useEffect(() => setText(shown), [shown]);
  const commit = (): void => {
    const trimmed = text.trim();
    if (trimmed === shown) return;
    const number = numberFrom(trimmed);
    if (trimmed === '' && optional) onChange(undefined);
    else if (number !== undefined) onChange(clamp(number, min, max));
    // A sum that comes to what was there leaves its result as well.
    setText(shown);
    onCommit?.();
  };
  return (
    <label htmlFor={id} className={`flex items-center justify-between gap-2 ${className}`}>
      <span className={hideLabel ? 'sr-only' : `text-soft ${sentenceCase(label)}`}>{label}</span>
      <input
        id={id}
        inputMode="text"
        value={text}
        placeholder={placeholder}
        onChange={(event) => setText(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === 'Enter') commit();
          if (event.key === 'Escape') setText(shown);
          event.stopPropagation();
        }}
        className="figures h-7 w-24 rounded-md border border-edge bg-pit px-2 text-right text-text placeholder:text-hush focus:border-lamp"
      />
    </label>
  );
}

/** A choice of a few words, all in sight. */
export function Choice<T extends string>({
  label,
  hideLabel = false,
  value,
  options,
  onChange,
}: {
  label: string;
  hideLabel?: boolean;
  value: T;
  options: readonly { value: T; label: string; hint?: string }[];
  onChange: (value: T) => void;
}) {
  return (
    <fieldset className="flex items-center justify-between gap-3">
      <legend className="sr-only">{label}</legend>
      {!hideLabel && (
        <span className={`text-soft ${sentenceCase(label)}`} aria-hidden>
          {label}
        </span>
      )}
      <div className="flex rounded-md border border-edge bg-pit p-0.5">
        {options.map((option) => {
          const button = (
            <button
              key={option.value}
              type="button"
              aria-pressed={value === option.value}
              onClick={() => onChange(option.value)}
              className={`h-6 rounded-[5px] px-2.5 text-[12.5px] ${sentenceCase(option.label)} whitespace-nowrap transition-colors ${value === option.value ? 'bg-rim text-text' : 'text-hush hover:text-text'}`}
            >
              {option.label}
            </button>
          );
          return option.hint ? (
            <Hint key={option.value} text={option.hint}>
              {button}
            </Hint>
          ) : (
            button
          );
        })}
      </div>
    </fieldset>
  );
}

/** A bar that shows how far something is. */
export function Bar({ share, label, className = '' }: { share: number; label: string; className?: string }) {
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={Math.round(share * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      className={`h-1.5 overflow-hidden rounded-full bg-pit ${className}`}
    >
      <div
        className="h-full rounded-full bg-lamp transition-[width] duration-150"
        style={{ width: `${Math.max(2, share * 100)}%` }}
      />
    </div>
  );
}
