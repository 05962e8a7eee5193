import { Trash2 } from 'lucide-react';
import type { Mask, Recipe } from '@owl-loom/recipe/schema';
import { pathsUsingMask, type StepOwner, stepOwnerAt } from '@owl-loom/recipe/walk';
import { gestureEnded } from '../../store/draft';
import { valueAt } from '@owl-loom/recipe/paths';
import { store, useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { Button, Choice } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { Pick } from '../../ui/Select';
import { removeMask, renameMask, setValue } from '../../document/edit';
import { ownerName } from '@owl-loom/recipe/names';
import { useSession } from '../../session/session';
import { noticesOf } from '../../session/notices';
import { FormulaBench } from './FormulaBench';
import { Heading } from './Heading';
import { HueFields } from './HueFields';
import { NameField } from './NameField';
import { MaskReach } from './MaskRangeWarning';
import { OwnSteps } from './StepRow';
import { PaintSection } from './PaintSection';
import { Section } from '../fields/Rows';

/** What a mask can be made of, as one word in a list. */
function sourceValue(of: Mask['of']): string {
  if ('strand' in of) return `strand ${of.strand}`;
  if ('starMask' in of) return `stars ${of.starMask}`;
  if ('colour' in of) return 'sheet';
  if ('below' in of) return 'below';
  return 'formula' in of ? 'formula' : 'other';
}

function madeOf(value: string, recipe: Recipe): Mask['of'] {
  if (value.startsWith('strand ')) return { strand: value.slice(7) };
  if (value.startsWith('stars ')) return { starMask: value.slice(6) };
  if (value === 'below') return { below: true };
  return value === 'formula' ? { formula: recipe.strands[0]?.id ?? '1' } : { colour: '#ffffff' };
}

/** The chosen mask: what it is made of, its steps, and what is seen through it. */
export function MaskBench({ owner, recipe }: { owner: StepOwner; recipe: Recipe }) {
  const { path, id } = owner;
  const { scene } = useSession();
  const maskAs = useAppSelector((state) => state.view.maskAs);
  const send = useAppDispatch();
  const mask = valueAt(recipe, path) as Mask;
  const { of, steps = [] } = mask;
  const notices = noticesOf(scene).filter(
    (n) => n.path === path || [`${path}.of`, `${path}.hue`, `${path}.paint`].some((at) => n.path.startsWith(at)),
  );
  const shared = path.startsWith('masks[');
  const users = shared && id !== undefined ? pathsUsingMask(recipe, id) : [];
  const names = [
    ...new Set(
      users.map((user) => {
        const reader = stepOwnerAt(recipe, user);
        return reader ? ownerName(recipe, reader) : user;
      }),
    ),
  ];
  const value = sourceValue(of);
  return (
    <>
      <Heading
        own
        title={id ?? 'Mask'}
        says={users.length > 0 ? `Mask of ${names.join(', ')}` : shared ? 'Mask, not used yet' : 'Own mask'}
        notices={notices.map((n) => n.message)}
      />
      <Section>
        {shared && id !== undefined && <NameField id={id} onKeep={(wanted) => renameMask(id, wanted)} />}
        <Pick
          label="Source"
          value={value}
          options={[
            ...recipe.strands.map((s) => ({ value: `strand ${s.id}`, label: s.id })),
            ...recipe.strands.map((s) => ({ value: `stars ${s.id}`, label: `Stars in ${s.id}` })),
            { value: 'below', label: 'the cloth below' },
            { value: 'formula', label: 'formula' },
            { value: 'sheet', label: 'Blank (white)' },
            ...(value === 'other' ? [{ value, label: 'layers or a mix' }] : []),
          ]}
          onChange={(next) => next !== value && setValue(`${path}.of`, madeOf(next, recipe))}
        />
        {'starMask' in of && (
          <SliderField
            label="Star size"
            value={of.grow ?? 1.5}
            min={0.3}
            max={5}
            digits={2}
            onChange={(grow) => setValue(`${path}.of.grow`, Math.max(0, grow), 'grow')}
            onCommit={() => store.dispatch(gestureEnded())}
          />
        )}
        {mask.hue && <HueFields path={`${path}.hue`} hue={mask.hue} />}
        <Choice
          label="View"
          value={maskAs}
          options={[
            { value: 'alone', label: 'Mask only' },
            { value: 'veil', label: 'veil', hint: 'Hidden areas turn grey and dim.' },
            { value: 'hatch', label: 'hatch', hint: 'Hidden areas are hatched.' },
            { value: 'not', label: 'Off', hint: 'The picture without marks.' },
          ]}
          onChange={(next) => send(viewChanged({ maskAs: next }))}
        />
        <Choice
          label="Invert"
          value={mask.invert ? 'rest' : 'itself'}
          options={[
            { value: 'itself', label: 'Off' },
            { value: 'rest', label: 'On', hint: 'Bright hides, dark shows.' },
          ]}
          onChange={(next) => setValue(`${path}.invert`, next === 'rest' ? true : undefined)}
        />
        <MaskReach path={path} />
      </Section>
      {'formula' in of && <FormulaBench path={`${path}.of`} text={of.formula} recipe={recipe} self={undefined} />}
      <PaintSection owner={owner} recipe={recipe} />
      <OwnSteps title="Steps of this mask" list={`${path}.steps`} steps={steps} image={scene?.paths[path]} forMask />
      {shared && id !== undefined && (
        <Section>
          <Button small look="danger" disabled={users.length > 0} onClick={() => removeMask(id)}>
            <Trash2 size={13} /> Remove mask
          </Button>
          {users.length > 0 && (
            <p className="text-[12.5px] text-hush">Used by {names.join(', ')}: remove it there first.</p>
          )}
        </Section>
      )}
    </>
  );
}
