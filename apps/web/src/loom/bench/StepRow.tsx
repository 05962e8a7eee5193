import { Plus } from 'lucide-react';
import type { Step } from '@owl-loom/recipe/schema';
import { selectionChanged } from '../../store/draft';
import { useAppDispatch } from '../../store/store';
import { Button } from '../../ui/controls';
import { stepName } from '@owl-loom/recipe/names';
import { useAddStep } from '../../session/use-add-step';
import type { PathInfo } from '../../../worker/protocol';
import { AddStepList } from '../draft/AddStepList';
import { Section } from '../fields/Rows';

/** The steps of a layer or a mask, in a row, with a place for one more. */
export function OwnSteps({
  title,
  list,
  steps,
  image,
  forMask,
}: {
  title: string;
  /** Path of the list. */
  list: string;
  steps: readonly Step[];
  /** What comes out of the last, as far as it is known. */
  image: PathInfo | undefined;
  forMask?: boolean;
}) {
  const add = useAddStep();
  const send = useAppDispatch();
  return (
    <Section title={title}>
      <div className="flex flex-wrap items-center gap-1.5">
        {steps.map((step, k) => (
          <Button
            key={`${step.do} ${String(k)}`}
            small
            data-path={`${list}[${k}]`}
            className={step.off ? 'line-through opacity-60' : ''}
            onClick={() => send(selectionChanged(`${list}[${k}]`))}
          >
            {step.name ?? stepName(step.do)}
          </Button>
        ))}
        <AddStepList image={image} forMask={forMask} onAdd={add(list)}>
          <Button small look="quiet">
            <Plus size={13} /> step
          </Button>
        </AddStepList>
      </div>
    </Section>
  );
}
