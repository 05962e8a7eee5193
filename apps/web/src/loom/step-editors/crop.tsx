import type { crop } from '@owl-loom/recipe/steps/crop';
import { NumberField } from '../../ui/controls';
import { Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';

/** A rectangle as four numbers. */
export function CropEditor({ params, set }: PropsOf<typeof crop>) {
  return (
    <Section title="Rectangle, px from the lower left">
      <div className="grid grid-cols-2 gap-x-5 gap-y-1.5">
        {(['x', 'y', 'width', 'height'] as const).map((key) => (
          <NumberField
            key={key}
            label={key}
            value={params[key]}
            min={key === 'width' || key === 'height' ? 1 : undefined}
            onChange={(value) => set(key, value)}
            className="[&_input]:w-20"
          />
        ))}
      </div>
      <p className="text-[12.5px] text-hush">Drag its corners or edges on the picture, or Shift-drag a new one.</p>
    </Section>
  );
}
