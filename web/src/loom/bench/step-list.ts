import { STEP_GROUPS, type StepKind } from '../../../../core/engine/step-kind';
import { STEP_KINDS } from '../../../../core/steps/index';
import type { PathInfo } from '../../../workers/protocol';

/** A step kind in the list of those that can be added. */
export interface OfferedStep {
  readonly kind: StepKind;
  /** What it takes, in a few words. */
  readonly takes: string;
  /** Why it does less well here than elsewhere; nothing where it fits. */
  readonly but?: string;
}

export interface OfferedGroup {
  readonly name: string;
  readonly steps: readonly OfferedStep[];
}

const PLANES = { mono: 'mono', colour: 'colour', either: '' } as const;

function takesOf({ takes }: StepKind): string {
  const domain = takes.domain === 'either' ? '' : takes.domain;
  return [PLANES[takes.planes], domain].filter(Boolean).join(', ');
}

/**
 * The steps that can stand at the end of an image, by what they are for; one for a mask comes first where a mask is made.
 * @param image what comes in; where that is not known yet, whatever takes mono
 */
export function offeredSteps(image: Pick<PathInfo, 'planes' | 'domain'> | undefined, forMask: boolean): OfferedGroup[] {
  const mono = image?.planes !== 3;
  const names = Object.entries(STEP_GROUPS) as [keyof typeof STEP_GROUPS, string][];
  const order = forMask
    ? [...names.filter(([key]) => key === 'mask'), ...names.filter(([key]) => key !== 'mask')]
    : names;
  return order
    .map(
      ([key, name]): OfferedGroup => ({
        name,
        steps: [...STEP_KINDS.values()]
          .filter(
            ({ group, takes }) => group === key && (takes.planes === 'either' || (takes.planes === 'mono') === mono),
          )
          .map((kind): OfferedStep => {
            const { domain } = kind.takes;
            const has = image?.domain ?? 'either';
            const fits = forMask || domain === 'either' || has === 'either' || domain === has;
            return { kind, takes: takesOf(kind), ...(!fits && { but: `made for ${domain} data, and this is ${has}` }) };
          }),
      }),
    )
    .filter(({ steps }) => steps.length > 0);
}

/** Whether a step is meant by what was typed: every word of it stands in its name, its sentence or its other words. */
export function isMeant({ name, says, words }: StepKind, typed: string): boolean {
  const text = [name, says, ...words].join(' ').toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
