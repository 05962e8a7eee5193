import type { structures } from '@owl-loom/recipe/steps/structures';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSwitch } from '../fields/step-editor';

const SIZES: readonly number[] = [2, 4, 8, 16, 32, 64, 128, 256, 512];

const nearest = (value: number): number =>
  SIZES.reduce((best, size) => (Math.abs(Math.log2(size / value)) < Math.abs(Math.log2(best / value)) ? size : best));

/** Sizes as a row of cells: the first and the last that are kept are pressed. */
export function StructuresEditor(props: PropsOf<typeof structures>) {
  const { params, setAll } = props;
  const [low, high] = [nearest(params.from), nearest(params.to)];
  const press = (size: number): void => {
    if (size < low) setAll({ from: size, to: high });
    else if (size > high) setAll({ from: low, to: size });
    else if (size - low < high - size) setAll({ from: size, to: high });
    else setAll({ from: low, to: size });
  };
  return (
    <Section title="Sizes kept, px">
      <div className="flex rounded-md border border-edge bg-pit p-0.5">
        {SIZES.map((size) => (
          <button
            key={size}
            type="button"
            aria-pressed={size >= low && size <= high}
            onClick={() => press(size)}
            className={`figures h-7 grow rounded-[5px] text-[11.5px] ${size >= low && size <= high ? 'bg-rim text-text' : 'text-hush hover:text-text'}`}
          >
            {size}
          </button>
        ))}
      </div>
      <ParamSwitch of={props} name="residual" no="Remove" yes="Keep" />
    </Section>
  );
}
