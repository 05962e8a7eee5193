import { Crop } from 'lucide-react';
import { useEffect, useRef } from 'react';
import type { Recipe } from '@owl-loom/recipe/schema';
import { stepOwnerAt } from '@owl-loom/recipe/walk';
import { isMoveStep } from '@owl-loom/recipe/steps/index';
import { describeMargins } from '@owl-loom/image/pyramid/data-margins';
import { Button } from '../../ui/controls';
import { usePicture, useSession } from '../../session/session';
import { setValue } from '../../document/edit';
import { imageName } from '@owl-loom/recipe/names';
import { useRequestedMeasurement } from '../../session/use-requested-measurement';
import { Section } from '../fields/Rows';
import { useIdleQuery } from './use-told';

/** How long after all has settled an exact answer is waited for, in milliseconds. */
const PATIENCE = 2500;

/** Whether an image ends for a reason of its own: a stack does, and what was moved or cut; others end where those do. */
function isOwn(recipe: Recipe, path: string): boolean {
  const owner = stepOwnerAt(recipe, path);
  const source = owner?.source;
  return (
    owner?.kind === 'layer' ||
    (source !== undefined && 'stack' in source) ||
    owner?.steps.some(({ do: kind }) => kind === 'crop' || isMoveStep(kind)) === true
  );
}

/** Where what the cloth is made of ends before the frame does, and the press that cuts the cloth to what all of them cover. */
export function Edges({ recipe }: { recipe: Recipe }) {
  const coverage = useIdleQuery({ type: 'edges' }, 'cloth');
  const { measureAgain } = useSession();
  const { settling } = usePicture();
  useRequestedMeasurement('ends', 'cloth');
  // Opened beside a picture that has settled already: a coarse level does not show the narrowest of edges.
  const asked = useRef<Recipe>(undefined);
  const missed = coverage !== undefined && !coverage.exact && !settling;
  useEffect(() => {
    if (!missed || asked.current === recipe) return undefined;
    // What was told before the picture settled is told anew in a moment.
    const timer = setTimeout(() => {
      asked.current = recipe;
      measureAgain();
    }, PATIENCE);
    return () => clearTimeout(timer);
  }, [missed, recipe, measureAgain]);
  const cut = recipe.cloth?.extent === 'common';
  if (!coverage || (coverage.parts.length === 0 && !cut)) return null;
  const { common } = coverage;
  const parts = coverage.parts.filter(({ path }) => isOwn(recipe, path));
  return (
    <Section title="Edges">
      {parts.length > 0 && (
        <ul className="space-y-1 text-[12.5px] leading-snug">
          {parts.map(({ path, ends }) => (
            <li key={path}>
              <b className="font-semibold">{imageName(recipe, path)}</b>{' '}
              <span className="text-soft">
                {ends
                  ? `no data for ${coverage.exact ? '' : 'about '}${describeMargins(ends)}`
                  : 'No data in the frame'}
              </span>
            </li>
          ))}
        </ul>
      )}
      {cut && common && (
        <p className="text-[12.5px] text-soft">
          {coverage.exact
            ? `Cropped to the common area: ${common.width} × ${common.height} px at x ${common.x}, y ${common.y}`
            : 'Measuring the common area …'}
        </p>
      )}
      <Button small onClick={() => setValue('cloth.extent', cut ? undefined : 'common')}>
        <Crop size={13} /> {cut ? 'Show full frame' : 'Crop to common area'}
      </Button>
    </Section>
  );
}
