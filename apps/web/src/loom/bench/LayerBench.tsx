import { ArrowDown, ArrowUp, Combine, Copy, Move, Trash2 } from 'lucide-react';
import type { Layer, Recipe, Source } from '@owl-loom/recipe/schema';
import type { StepOwner } from '@owl-loom/recipe/walk';
import { layerLocation, valueAt, layersAt } from '@owl-loom/recipe/paths';
import { gestureEnded } from '../../store/draft';
import { store } from '../../store/store';
import { Button, IconButton } from '../../ui/controls';
import { ColourField } from '../../ui/ColourField';
import { SliderField } from '../../ui/SliderField';
import { setValue } from '../../document/edit';
import {
  duplicateLayer,
  groupWithBelow,
  LAYER_KINDS,
  type LayerKind,
  moveLayer,
  changeLayerSource,
  removeLayer,
  ungroupBlocker,
} from '../../document/edit-layers';
import { layerName } from '@owl-loom/recipe/names';
import { nudge } from '../../document/nudge';
import { useSession } from '../../session/session';
import { noticesOf } from '../../session/notices';
import { AverageBench } from './AverageBench';
import { BlendPicker } from './BlendPicker';
import { FormulaBench } from './FormulaBench';
import { Heading } from './Heading';
import { Inside } from './GroupContents';
import { MaskLine } from './MaskLine';
import { MixBench } from './MixBench';
import { OwnSteps } from './StepRow';
import { Section } from '../fields/Rows';
import { Touched } from './ChangedShare';
import { Pick } from '../../ui/Select';

/** What a layer can be made of, as one word in a list. */
function sourceValue(source: Source): string {
  if ('strand' in source) return `strand ${source.strand}`;
  return LAYER_KINDS.find(({ kind }) => kind in source)?.kind ?? 'stack';
}

/** The chosen layer: what it is made of, its steps, and how it is laid on the cloth. */
export function LayerBench({ owner: { path }, recipe }: { owner: StepOwner; recipe: Recipe }) {
  const { scene } = useSession();
  const layer = valueAt(recipe, path) as Layer;
  const { list, index } = layerLocation(path) ?? { list: '', index: 0 };
  const layers = layersAt(recipe, list);
  const notices = noticesOf(scene).filter(
    (n) => n.path === path || [`${path}.of`, `${path}.blend`, `${path}.mask`].some((at) => n.path.startsWith(at)),
  );
  const value = sourceValue(layer.of);
  const choose = (next: string): void =>
    next.startsWith('strand ')
      ? changeLayerSource(path, 'strand', next.slice(7))
      : changeLayerSource(path, next as LayerKind);
  const together = ungroupBlocker(layer);
  const alone = layers.length === 1 && list !== 'cloth.layers';
  return (
    <>
      <Heading
        title={layerName(layer, index)}
        says={`Layer ${index + 1} of ${layers.length}, from the bottom`}
        notices={notices.map((n) => n.message)}
      />
      <Section>
        <label className="flex items-center justify-between gap-3">
          <span className="text-soft">Name</span>
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
          label="Source"
          value={value}
          options={[
            ...recipe.strands.map((s) => ({ value: `strand ${s.id}`, label: s.id })),
            ...LAYER_KINDS.filter(({ kind }) => kind !== 'strand' && (kind !== 'below' || index > 0)).map(
              ({ kind, label }) => ({ value: kind, label }),
            ),
          ]}
          onChange={choose}
        />
        {'colour' in layer.of && (
          <ColourField
            value={layer.of.colour}
            onChange={(hex) => setValue(`${path}.of.colour`, hex, 'colour')}
            onEnd={() => store.dispatch(gestureEnded())}
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
          usual={1}
          min={0}
          max={1}
          onChange={(v) => setValue(`${path}.opacity`, v >= 1 ? undefined : Math.max(0, v), 'opacity')}
          onCommit={() => store.dispatch(gestureEnded())}
          digits={3}
        />
        <MaskLine path={path} mask={layer.mask} recipe={recipe} />
        {index > 0 && layer.visible !== false && <Touched change={{ path: path }} image={`${path}@cloth`} />}
      </Section>
      {'mix' in layer.of && <MixBench path={`${path}.of`} mix={layer.of} recipe={recipe} self={undefined} />}
      {'average' in layer.of && <AverageBench path={`${path}.of`} source={layer.of} recipe={recipe} self={undefined} />}
      {'formula' in layer.of && (
        <FormulaBench path={`${path}.of`} text={layer.of.formula} recipe={recipe} self={undefined} />
      )}
      {'layers' in layer.of && <Inside path={path} layers={layer.of.layers} why={together} />}
      <OwnSteps
        title="Steps of this layer"
        list={`${path}.steps`}
        steps={layer.steps ?? []}
        image={scene?.paths[path]}
      />
      <Section>
        <div className="flex items-center gap-1.5">
          <IconButton label="Move up" disabled={index === layers.length - 1} onClick={() => moveLayer(path, index + 1)}>
            <ArrowUp size={15} />
          </IconButton>
          <IconButton label="Move down" disabled={index === 0} onClick={() => moveLayer(path, index - 1)}>
            <ArrowDown size={15} />
          </IconButton>
          <IconButton label="Move on the picture (Alt+arrow: 1 px)" onClick={() => nudge(0, 0, true)}>
            <Move size={14} />
          </IconButton>
          <IconButton label="Duplicate" onClick={() => duplicateLayer(path)}>
            <Copy size={14} />
          </IconButton>
          <IconButton
            label="Combine with layer below into a small cloth"
            disabled={index === 0}
            onClick={() => groupWithBelow(path)}
          >
            <Combine size={15} />
          </IconButton>
          <Button small look="danger" className="ml-auto" disabled={alone} onClick={() => removeLayer(path)}>
            <Trash2 size={13} /> Remove
          </Button>
        </div>
        {alone && <p className="text-[12.5px] text-hush">A small cloth needs at least one layer.</p>}
      </Section>
    </>
  );
}
