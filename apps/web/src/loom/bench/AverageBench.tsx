import type { Recipe, Source } from '@owl-loom/recipe/schema';
import { Choice } from '../../ui/controls';
import { setValue } from '../../document/edit';
import { AverageNoise } from './AverageNoise';
import { Section } from '../fields/Rows';

/**
 * An average: which strands are in it, and by what they are weighed.
 * @param path of the source
 * @param self id of the strand that it is, which cannot be in it
 */
export function AverageBench({
  path,
  source,
  recipe,
  self,
}: {
  path: string;
  source: Extract<Source, { average: string[] }>;
  recipe: Recipe;
  self: string | undefined;
}) {
  return (
    <Section>
      <Choice
        label="Weighting"
        value={source.by ?? 'equal'}
        options={[
          { value: 'equal', label: 'equal' },
          { value: 'exposure', label: 'exposure' },
          { value: 'signal', label: 'signal', hint: 'By (signal/noise)²' },
        ]}
        onChange={(value) => setValue(`${path}.by`, value)}
      />
      <fieldset className="grid grid-cols-2 gap-1.5">
        <legend className="mb-1 text-[12px] text-hush">Strands</legend>
        {recipe.strands
          .filter((other) => other.id !== self)
          .map((other) => (
            <label key={other.id} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-lamp"
                checked={source.average.includes(other.id)}
                disabled={source.average.length === 1 && source.average.includes(other.id)}
                onChange={(event) =>
                  setValue(
                    `${path}.average`,
                    event.target.checked
                      ? [...source.average, other.id]
                      : source.average.filter((id) => id !== other.id),
                  )
                }
              />
              {other.id}
            </label>
          ))}
      </fieldset>
      {self !== undefined && <AverageNoise recipe={recipe} self={self} parts={source.average} />}
    </Section>
  );
}
