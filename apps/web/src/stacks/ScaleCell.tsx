import { ChevronDown } from 'lucide-react';
import { useScaleStacksMutation } from '../store/api';
import type { StackRow } from '@owl-loom/api/stacks';
import { showError } from '../store/show-error';
import { NumberField } from '../ui/controls';
import { Menu } from '../ui/Menu';
import { divisorText } from './inconsistencies';

/** Divisors that files are commonly saved for: shares of 1, and 8, 12, 14 and 16 bits. */
const COMMON = [1, 255, 4095, 16383, 65535] as const;

/** What a stack's numbers are divided by. */
export function ScaleCell({ row }: { row: StackRow }) {
  const [scale] = useScaleStacksMutation();
  const take = async (divisor: number | undefined): Promise<void> => {
    if (divisor === undefined || divisor === row.divisor) return;
    showError(await scale({ target: row.targetId, divisor, stacks: [row.id] }));
  };
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents lint/a11y/noStaticElementInteractions: a click into the field must not choose the row
    <span onClick={(event) => event.stopPropagation()}>
      <NumberField
        label={`Full scale of ${row.name}`}
        hideLabel
        value={row.divisor}
        min={1e-9}
        digits={10}
        onChange={(value) => void take(value)}
        className="[&_input]:w-20 [&_input]:border-transparent [&_input]:bg-transparent [&_input]:hover:border-edge"
      />
    </span>
  );
}

/** The head of the scale's column: one scale for the whole set. */
export function ScaleHead({ target }: { target: string }) {
  const [scale] = useScaleStacksMutation();
  const all = (divisor: number | null): void => void scale({ target, divisor }).then(showError);
  return (
    <Menu
      items={[
        { label: 'Detect from files', onSelect: () => all(null) },
        ...COMMON.map((divisor) => ({ label: `Set all to ${divisorText(divisor)}`, onSelect: () => all(divisor) })),
      ]}
    >
      <button
        type="button"
        title="Pixel values are divided by this, so that 1 is full scale; click to set for all stacks"
        className="flex items-center gap-1 hover:text-text"
      >
        Full scale <ChevronDown size={11} />
      </button>
    </Menu>
  );
}
