import { stepTitle } from '@owl-loom/recipe/names';
import type { Recipe } from '@owl-loom/recipe/schema';
import { selectionChanged } from '../../store/draft';
import { useAppDispatch } from '../../store/store';
import { uprightWithin } from '@owl-loom/image/geometry/turned';
import { Button, Choice, NumberField } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { setValue, endGesture } from '../../document/edit';
import { useSession } from '../../session/session';
import { noticesOf } from '../../session/notices';
import { Edges } from './Coverage';
import { EmptyCorners } from '../write/EmptyCorners';
import { Heading } from './Heading';
import { LevelButton } from '../fields/StraightenButton';
import { Section } from '../fields/Rows';
import { SkySection } from './SkySection';

/** The cloth: which part of the frame it shows, how it is turned, and all that the recipe has to warn of. */
export function ClothBench({ recipe }: { recipe: Recipe }) {
  const { scene } = useSession();
  const send = useAppDispatch();
  const extent = recipe.cloth?.extent ?? 'frame';
  const orient = recipe.cloth?.orient ?? {};
  const kind = typeof extent === 'string' ? extent : 'rectangle';
  const notices = noticesOf(scene);
  const frame = scene?.frame;
  return (
    <>
      <Heading title="Cloth" says="The finished picture: layers from the bottom up, then the finishing steps" />
      {notices.length > 0 && (
        <Section title="Warnings">
          <ul className="space-y-1.5">
            {notices.map((n) => (
              <li key={`${n.path} ${n.message}`}>
                <button
                  type="button"
                  onClick={() =>
                    send(
                      selectionChanged(n.path.replace(/\.(of|from|blend|to|mask|stack|strand|mix.*)$/, '') || 'cloth'),
                    )
                  }
                  className="w-full rounded-md border border-edge bg-pit px-2.5 py-2 text-left text-[12.5px] leading-snug hover:border-ember"
                >
                  <span className="block text-[12px] text-ember">{stepTitle(recipe, n.path)}</span>
                  <span className="block first-letter:uppercase">{n.message}</span>
                </button>
              </li>
            ))}
          </ul>
        </Section>
      )}
      <Edges recipe={recipe} />
      <SkySection recipe={recipe} />
      <Section title="Export area">
        <Choice
          label="Area"
          value={kind}
          options={[
            { value: 'frame', label: 'Full frame' },
            {
              value: 'common',
              label: 'Common area',
              hint: 'The largest rectangle where every strand in use has data.',
            },
            { value: 'rectangle', label: 'Region' },
          ]}
          onChange={(value) =>
            setValue(
              'cloth.extent',
              value === 'frame'
                ? undefined
                : value === 'rectangle'
                  ? { x: 0, y: 0, width: frame?.width ?? 1, height: frame?.height ?? 1 }
                  : value,
            )
          }
        />
        {typeof extent === 'object' && (
          <div className="grid grid-cols-2 gap-x-5 gap-y-1.5">
            {(['x', 'y', 'width', 'height'] as const).map((key) => (
              <NumberField
                key={key}
                label={key}
                value={extent[key]}
                min={key === 'width' || key === 'height' ? 1 : undefined}
                onChange={(value) => setValue(`cloth.extent.${key}`, value)}
                className="[&_input]:w-20"
              />
            ))}
          </div>
        )}
        <Choice
          label="Rotation"
          value={String(orient.turn ?? 0) as '0' | '90' | '180' | '270'}
          options={(['0', '90', '180', '270'] as const).map((value) => ({ value, label: `${value}°` }))}
          onChange={(value) => setValue('cloth.orient', { ...orient, turn: Number(value) })}
        />
        <Choice
          label="flip"
          value={orient.flip ?? 'none'}
          options={[
            { value: 'none', label: 'none' },
            { value: 'horizontal', label: '↔', hint: 'Left and right change places.' },
            { value: 'vertical', label: '↕', hint: 'Top and bottom change places.' },
            { value: 'both', label: 'both' },
          ]}
          onChange={(value) => setValue('cloth.orient', { ...orient, flip: value })}
        />
        <SliderField
          label="Angle"
          value={orient.degrees ?? 0}
          min={-15}
          max={15}
          usual={0}
          onChange={(value) => setValue('cloth.orient.degrees', value === 0 ? undefined : value, 'degrees')}
          onCommit={endGesture}
        />
        <div className="flex flex-wrap gap-1.5">
          <LevelButton />
          {frame && (orient.degrees ?? 0) !== 0 && (
            <Button small onClick={() => setValue('cloth.extent', uprightWithin(frame, orient.degrees ?? 0))}>
              Largest without empty corners
            </Button>
          )}
        </div>
        {frame && extent !== 'common' && (
          <EmptyCorners rect={extent === 'frame' ? frame : extent} orient={orient} frame={frame} />
        )}
      </Section>
    </>
  );
}
