import { cover } from '../engine/covers';
import { workerStack } from '../loom/session';
import { type TargetCard, api } from '../store/api';
import { store } from '../store/store';
import { BitmapView } from '../ui/BitmapView';

async function picture(target: TargetCard): Promise<ImageBitmap | undefined> {
  const [recipe] = target.recipes;
  if (!recipe) return undefined;
  const stacks = await store.dispatch(api.endpoints.stacks.initiate(target.id, { subscribe: false })).unwrap();
  const { body } = await store
    .dispatch(api.endpoints.recipe.initiate(recipe.id, { subscribe: false, forceRefetch: true }))
    .unwrap();
  // What has been measured of it, in the Loom or for a file, makes the cover true; else its figures are guessed.
  const { data } = await store.dispatch(
    api.endpoints.measure.initiate({ target: target.id, recipe: body, paths: ['cloth'], also: [], known: true }),
  );
  return cover({ recipe: body, stacks: stacks.map(workerStack), path: 'cloth', width: 700, figures: data?.figures });
}

/** The newest recipe's cloth as a small picture. */
export function Cover({ target }: { target: TargetCard }) {
  return (
    <BitmapView
      load={() => picture(target)}
      stamp={`${target.id} ${target.recipes[0]?.updatedAt ?? ''}`}
      className="size-full object-cover"
    />
  );
}
