import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react';
import type { Layer, Recipe, Source } from '../../../../core/recipe/schema';
import type { Owner } from '../../../../core/recipe/walk';
import { layerPlace, valueAt } from '../../store/paths';
import { gestureEnded } from '../../store/draft';
import { store } from '../../store/store';
import { Button, IconButton, SliderField } from '../../ui/controls';
import { moveLayer, removeLayer, setValue } from '../edit';
import { layerName } from '../names';
import { useSession } from '../session';
import { BlendPicker } from './BlendPicker';
import { Heading } from './Heading';
import { MaskLine } from './MaskLine';
import { MixBench } from './MixBench';
import { OwnSteps } from './OwnSteps';
import { Section } from './Rows';
import { Pick } from '../../ui/Pick';

/** What a layer can be made of, as one word in a list. */
function sourceValue(source: Source): string {
  if ('strand' in source) return `strand ${source.strand}`;
  if ('mix' in source) return 'mix';
  if ('colour' in source) return 'colour';
  if ('below' in source) return 'below';
  return 'other';
}

/** The chosen layer: what it is made of, its steps, and how it is laid on the cloth. */
export function LayerBench({ owner: { path }, recipe }: { owner: Owner; recipe: Recipe }) {
  const { scene } = useSession();
  const layer = valueAt(recipe, path) as Layer;
  const { list, index } = layerPlace(path) ?? { list: '', index: 0 };
  const layers = (valueAt(recipe, list) as Layer[] | undefined) ?? [];
  const notices = [...(scene?.faults ?? []), ...(scene?.warnings ?? [])].filter(
    (n) => n.path === path || [`${path}.of`, `${path}.blend`, `${path}.mask`].some((at) => n.path.startsWith(at)),
  );
  const value = sourceValue(layer.of);
  const choose = (next: string): void => {
    const first = recipe.strands[0]?.id ?? '';
    const sources: Record<string, Source> = {
      mix: { mix: { red: { [first]: 1 }, green: { [first]: 1 }, blue: { [first]: 1 } }, weights: 'share' },
      colour: { colour: '#0d0d0f' },
      below: { below: true },
    };
    setValue(`${path}.of`, next.startsWith('strand ') ? { strand: next.slice(7) } : sources[next]);
  };
  return (
    <>
      <Heading
        title={layerName(layer, index)}
        says={`layer ${index + 1} of ${layers.length}, from the bottom`}
        notices={notices.map((n) => n.message)}
      />
      <Section>
        <label className="flex items-center justify-between gap-3">
          <span className="text-soft">name</span>
          <input
            key={path}
            defaultValue={layer.name ?? layer.id ?? ''}
            maxLength={120}
            onKeyDown={(event) => event.stopPropagation()}
            onBlur={(event) =>
              event.target.value !== (layer.name ?? layer.id ?? '') &&
              setValue(`${path}.name`, event.target.value || undefined)
            }
            className="h-7 w-40 rounded-md border border-edge bg-pit px-2"
          />
        </label>
        <Pick
          label="made of"
          value={value}
          options={[
            { value: 'mix', label: 'tie-up' },
            ...recipe.strands.map((s) => ({ value: `strand ${s.id}`, label: s.id })),
            { value: 'colour', label: 'plain colour' },
            ...(index > 0 ? [{ value: 'below', label: 'the cloth below' }] : []),
          ]}
          onChange={choose}
        />
        {'colour' in layer.of && (
          <input
            type="color"
            aria-label="colour"
            value={layer.of.colour}
            onChange={(event) => setValue(`${path}.of.colour`, event.target.value, 'colour')}
            className="h-7 w-full cursor-pointer rounded-md border border-edge bg-pit"
          />
        )}
        {index > 0 && (
          <BlendPicker
            value={layer.blend ?? 'normal'}
            onChange={(mode) => setValue(`${path}.blend`, mode === 'normal' ? undefined : mode, 'blend')}
            onEnd={() => store.dispatch(gestureEnded())}
          />
        )}
        <SliderField
          label="opacity"
          value={layer.opacity ?? 1}
          min={0}
          max={1}
          onChange={(v) => setValue(`${path}.opacity`, v >= 1 ? undefined : Math.max(0, v), 'opacity')}
          onCommit={() => store.dispatch(gestureEnded())}
          digits={3}
        />
        <MaskLine path={path} mask={layer.mask} recipe={recipe} />
      </Section>
      {'mix' in layer.of && <MixBench path={`${path}.of`} mix={layer.of} recipe={recipe} self={undefined} />}
      <OwnSteps
        title="steps of this layer"
        list={`${path}.steps`}
        steps={layer.steps ?? []}
        mono={scene?.paths[path]?.planes !== 3}
      />
      <Section>
        <div className="flex items-center gap-1.5">
          <IconButton label="Move up" disabled={index === layers.length - 1} onClick={() => moveLayer(path, 1)}>
            <ArrowUp size={15} />
          </IconButton>
          <IconButton label="Move down" disabled={index === 0} onClick={() => moveLayer(path, -1)}>
            <ArrowDown size={15} />
          </IconButton>
          <Button small look="danger" className="ml-auto" onClick={() => removeLayer(path)}>
            <Trash2 size={13} /> Remove layer
          </Button>
        </div>
      </Section>
    </>
  );
}
