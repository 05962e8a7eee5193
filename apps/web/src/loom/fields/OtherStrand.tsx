import { isPathInside, strandOwners } from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';
import { Pick } from '../../ui/Select';
import { setValue } from '../../document/edit';

/** Id of the strand that a path lies on; undefined in the cloth. */
export function ownerOf(recipe: Recipe, path: string): string | undefined {
  const strand = strandOwners(recipe).find((owner) => isPathInside(path, owner.path));
  return strand?.id;
}

/** Names another strand in a step. */
export function OtherStrand({
  label,
  path,
  name,
  value,
  recipe,
}: {
  label: string;
  path: string;
  name: 'to' | 'broad';
  value: unknown;
  recipe: Recipe;
}) {
  const self = ownerOf(recipe, path);
  return (
    <Pick
      label={label}
      value={typeof value === 'string' && value ? value : undefined}
      options={recipe.strands
        .filter((strand) => strand.id !== self)
        .map((strand) => ({ value: strand.id, label: strand.id }))}
      onChange={(id) => setValue(`${path}.${name}`, id)}
    />
  );
}
