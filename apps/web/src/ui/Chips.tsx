import { sentenceCase } from './sentence-case';

/** Any number of a few words, all in sight. */
export function Chips<T extends string>({
  label,
  chosen,
  options,
  onChange,
}: {
  label: string;
  chosen: readonly T[];
  options: readonly { value: T; label: string; hint?: string }[];
  onChange: (chosen: T[]) => void;
}) {
  return (
    <fieldset className="flex flex-wrap items-center gap-1.5">
      <legend className={`mb-1 text-soft ${sentenceCase(label)}`}>{label}</legend>
      {options.map(({ value, label: text, hint }) => {
        const on = chosen.includes(value);
        return (
          <button
            key={value}
            type="button"
            aria-pressed={on}
            title={hint}
            onClick={() => onChange(on ? chosen.filter((own) => own !== value) : [...chosen, value])}
            className={`h-7 rounded-md border px-2.5 text-[12.5px] transition-colors ${on ? 'border-lamp text-lamp' : 'border-edge text-soft hover:border-rim hover:text-text'}`}
          >
            {text}
          </button>
        );
      })}
    </fieldset>
  );
}
