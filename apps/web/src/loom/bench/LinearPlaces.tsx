import type { Recipe } from '@owl-loom/recipe/schema';
import { recipeChanged } from '../../store/draft';
import { useAppDispatch } from '../../store/store';
import { Button } from '../../ui/controls';
import { linearPlaces } from '../../document/linear-places';
import { Section } from '../fields/Rows';

/** Puts a step for linear data that stands after a stretch where it belongs, in one press. */
export function LinearPlaces({ path, recipe }: { path: string; recipe: Recipe }) {
  const send = useAppDispatch();
  const places = linearPlaces(recipe, path);
  if (places.length === 0) return null;
  return (
    <Section title="where it belongs">
      <div className="flex flex-wrap gap-1.5">
        {places.map(({ label, ...there }) => (
          <Button key={label} small onClick={() => send(recipeChanged(there))}>
            {label}
          </Button>
        ))}
      </div>
    </Section>
  );
}
