import type { NoiseShare } from '@owl-loom/engine/noise-breakdown';

/** Which stacks the noise of each column comes from, in percent, and in words where one of them rules it. */
export function NoiseFrom({
  accounts,
  warnings,
}: {
  accounts: readonly {
    readonly name: string;
    readonly short: string;
    readonly colour: string;
    readonly shares: readonly NoiseShare[];
  }[];
  warnings: readonly string[];
}) {
  const shown = accounts.filter(({ shares }) => shares.length > 1);
  if (shown.length === 0) return null;
  return (
    <div className="space-y-1 text-[12.5px]">
      <p className="text-hush">Share of noise variance by stack, %</p>
      <ul>
        {shown.map(({ name, short, colour, shares }) => (
          <li key={name} className="flex gap-2">
            <b className="w-4 shrink-0 font-semibold" style={{ color: colour }}>
              {short}
            </b>
            <span className="text-soft">
              {shares.map(({ stack, share }) => `${stack} ${Math.round(100 * share)}`).join(' · ')}
            </span>
          </li>
        ))}
      </ul>
      {warnings.length > 0 && <p className="text-lamp">{sentence(warnings)}</p>}
    </div>
  );
}

function sentence(parts: readonly string[]): string {
  const text = parts.join('; ');
  return `${text[0].toUpperCase()}${text.slice(1)}.`;
}
