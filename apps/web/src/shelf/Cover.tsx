import { useCoverQuery } from '../store/api';
import type { TargetCard } from '@owl-loom/api/targets';

/** The latest swatch, or else the newest recipe's cloth as a small picture of the server's; an older one stays until the new one is woven. */
export function Cover({ target: { recipes, cover } }: { target: TargetCard }) {
  const [recipe] = recipes;
  if (cover) return <img src={`/api/swatch-pictures/${cover}`} alt="" className="size-full object-cover" />;
  return recipe ? <CoverOf id={recipe.id} changed={recipe.updatedAt} /> : null;
}

function CoverOf({ id, changed }: { id: string; changed: string }) {
  const { data } = useCoverQuery({ id, changed });
  if (data?.name) return <img src={`/api/covers/${data.name}`} alt="" className="size-full object-cover" />;
  return data && !data.fresh ? (
    <span className="grid size-full place-items-center text-[12.5px] text-hush">Weaving …</span>
  ) : null;
}
