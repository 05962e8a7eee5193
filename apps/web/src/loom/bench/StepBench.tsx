import { stepOwners } from '@owl-loom/recipe/walk';
import { ArrowLeft, ArrowRight, Copy, Pin, Power, Trash2 } from 'lucide-react';
import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { pinnedValuesFrom } from '@owl-loom/recipe/new-step';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import { gestureEnded } from '../../store/draft';
import { stepLocation, stepsAt } from '@owl-loom/recipe/paths';
import { store } from '../../store/store';
import { Button, IconButton } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { Menu } from '../../ui/Menu';
import { copyStep, removeStep, setValue, shiftStep } from '../../document/edit';
import { ownerName, imageName, stepName } from '@owl-loom/recipe/names';
import { useReport, usePicture, useSession } from '../../session/session';
import { noticesOf } from '../../session/notices';
import { ColoursInView } from './ColoursInView';
import { Heading } from './Heading';
import { stepInputPath } from '../../document/state-paths';
import { LinearPlaces } from './LinearPlaces';
import { MaskLine } from './MaskLine';
import { Section } from '../fields/Rows';
import { Touched } from './ChangedShare';
import { EDITORS } from '../step-editors/index';
import { editorProps } from '../fields/step-editor';

/** The chosen step: its editor, and what every step has. */
export function StepBench({ path, step, recipe }: { path: string; step: Step; recipe: Recipe }) {
  const { scene } = useSession();
  const { settling } = usePicture();
  const described = useReport();
  const place = stepLocation(path);
  const kind = STEP_SPECS.get(step.do);
  const before = stepInputPath(recipe, path);
  const Editor = EDITORS[step.do];
  const props = editorProps(path, step, recipe);
  const count = place ? stepsAt(recipe, place.list).length : 0;
  const notices = noticesOf(scene).filter((n) => n.path === path || n.path.startsWith(`${path}.`));
  // A guess is not to be held.
  const held = settling ? undefined : pinnedValuesFrom(step.do, described?.measured[path]);
  const lists = [
    ...[...stepOwners(recipe)].map((owner) => ({
      name: ownerName(recipe, owner),
      list: owner.stepsPath,
      length: owner.steps.length,
    })),
  ].filter(({ list }) => list !== place?.list);
  return (
    <>
      <Heading
        title={step.name ?? stepName(step.do)}
        says={kind?.summary ?? ''}
        where={imageName(recipe, path)}
        watch={kind?.hints}
        notices={notices.map((n) => n.message)}
      />
      {!step.off && kind?.accepts.domain === 'linear' && scene?.paths[before]?.domain === 'stretched' && (
        <LinearPlaces path={path} recipe={recipe} />
      )}
      {Editor && props ? (
        <Editor {...props} />
      ) : (
        <Section>
          <p className="text-soft">
            {Editor
              ? 'The settings of this step are invalid (see above). Undo, or remove the step.'
              : 'This version of Owl Loom does not know this step; update it. The recipe keeps the step.'}
          </p>
        </Section>
      )}
      {kind?.group === 'colour' && scene?.paths[path]?.domain === 'stretched' && <ColoursInView path={path} />}
      <Section>
        <SliderField
          label="opacity"
          value={step.opacity ?? 1}
          min={0}
          max={1}
          usual={1}
          onChange={(value) =>
            setValue(`${path}.opacity`, value === 1 ? undefined : Math.min(1, Math.max(0, value)), 'opacity')
          }
          onCommit={() => store.dispatch(gestureEnded())}
          digits={3}
        />
        <MaskLine path={path} mask={step.mask} recipe={recipe} />
        {scene?.paths[path]?.domain === 'stretched' && scene.paths[before]?.domain === 'stretched' && (
          <Touched change={{ path, before }} image={path} />
        )}
        <div className="flex flex-wrap items-center gap-1.5">
          <Button
            small
            look={step.off ? 'lamp' : 'plain'}
            onClick={() => setValue(`${path}.off`, step.off ? undefined : true)}
          >
            <Power size={13} /> {step.off ? 'Turn on' : 'Turn off'}
          </Button>
          {(kind?.pinnable || step.hold) && (
            <Button
              small
              look={step.hold ? 'lamp' : 'plain'}
              disabled={!held && !step.hold}
              onClick={() => setValue(`${path}.hold`, step.hold ? undefined : held)}
            >
              <Pin size={13} /> {step.hold ? 'Unpin measurements' : 'Pin measurements'}
            </Button>
          )}
          <span className="ml-auto flex">
            <IconButton label="Move earlier" disabled={!place || place.index === 0} onClick={() => shiftStep(path, -1)}>
              <ArrowLeft size={15} />
            </IconButton>
            <IconButton
              label="Move later"
              disabled={!place || place.index >= count - 1}
              onClick={() => shiftStep(path, 1)}
            >
              <ArrowRight size={15} />
            </IconButton>
            <Menu
              align="end"
              items={lists.map(({ name, list, length }) => ({
                label: `to the end of ${name}`,
                onSelect: () => copyStep(step, list, length),
              }))}
            >
              <button
                type="button"
                aria-label="Copy to …"
                title="Copy to …"
                className="inline-flex size-7 items-center justify-center rounded-md text-soft hover:bg-shelf hover:text-text"
              >
                <Copy size={14} />
              </button>
            </Menu>
            <IconButton label="Remove this step" onClick={() => removeStep(path)}>
              <Trash2 size={14} />
            </IconButton>
          </span>
        </div>
      </Section>
    </>
  );
}
