import type { tint } from '../../../../../core/steps/tint';
import { end } from '../editor';
import { Section } from '../Rows';
import type { PropsOf } from './editor';

export function TintEditor({ params, set }: PropsOf<typeof tint>) {
  return (
    <Section>
      <label className="flex items-center justify-between">
        <span className="text-soft">colour</span>
        <span className="flex items-center gap-3">
          <span className="figures">{params.colour}</span>
          <input
            type="color"
            aria-label="colour"
            value={params.colour}
            onChange={(event) => set('colour', event.target.value, 'moving')}
            onBlur={end}
            className="h-7 w-12 cursor-pointer rounded-md border border-edge bg-pit"
          />
        </span>
      </label>
    </Section>
  );
}
