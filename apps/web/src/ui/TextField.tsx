import type { ComponentProps } from 'react';
import { sentenceCase } from './sentence-case';

/** A line to be typed, under its question; what is wrong with it stands below. */
export function TextField({ label, trouble, ...rest }: ComponentProps<'input'> & { label: string; trouble?: string }) {
  return (
    <label className="block">
      <span className={`mb-1 block text-soft ${sentenceCase(label)}`}>{label}</span>
      <input
        autoComplete="off"
        {...rest}
        className="h-9 w-full rounded-md border border-edge bg-pit px-3 focus:border-lamp"
      />
      {trouble && (
        <span role="alert" className="mt-1 block text-[12.5px] text-ember">
          {trouble}
        </span>
      )}
    </label>
  );
}

/** What a name must be. */
export const NAME = { required: true, maxLength: 200, validate: (name: string) => name.trim() !== '' } as const;
