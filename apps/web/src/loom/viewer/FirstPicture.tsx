import { useParams } from 'react-router';
import type { Recipe } from '@owl-loom/recipe/schema';
import { stackOf } from '@owl-loom/recipe/walk';
import { stackCover } from '../../engine/thumbnails';
import { useAnyCoverQuery } from '../../store/api';
import { BitmapView } from '../../ui/BitmapView';
import { useStacks } from '../../session/stacks-context';
import { useWork } from './Settling';

/** Screen pixels across of a stack that is shown meanwhile. */
const ACROSS = 600;

/** In the place of a picture that has not come yet: the best there is, and what it waits for. */
export function FirstPicture({ recipe }: { recipe: Recipe }) {
  const { recipe: id = '' } = useParams();
  const { data } = useAnyCoverQuery(id);
  const stacks = useStacks();
  const work = useWork();
  const first = recipe.strands.map(({ from }) => stackOf(from)).find((name) => name !== undefined);
  const stack = stacks.find(({ name }) => name === first);
  const look = 'pointer-events-none absolute inset-0 size-full object-contain opacity-60';
  return (
    <>
      {data?.name && <img src={`/api/covers/${data.name}`} alt="" className={look} />}
      {data && !data.name && stack && (
        <BitmapView load={() => stackCover(stack, ACROSS)} stamp={stack.pixels} className={look} />
      )}
      <p role="status" className="absolute inset-x-0 top-[45%] text-center">
        <span className="rounded-md bg-black/75 px-3 py-1.5 text-[13px] text-soft">
          Weaving the first picture …{work && <span className="text-lamp"> {work}</span>}
        </span>
      </p>
    </>
  );
}
