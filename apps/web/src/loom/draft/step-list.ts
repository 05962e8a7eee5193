import { STEP_GROUPS, type StepSpec } from '@owl-loom/recipe/steps/step-spec';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import type { PathInfo } from '../../../worker/protocol';
import { entriesOf } from '@owl-loom/base/typed-keys';

/** A step kind in the list of those that can be added. */
export interface OfferedStep {
  readonly kind: StepSpec;
  /** What it takes, in a few words. */
  readonly takes: string;
  /** Why it does less well here than elsewhere; nothing where it fits. */
  readonly but?: string;
  /** Why it cannot stand here, and where it can; nothing where it can. */
  readonly cannot?: string;
}

export interface OfferedGroup {
  readonly name: string;
  readonly steps: readonly OfferedStep[];
}

const PLANES = { mono: 'mono', colour: 'colour', either: '' } as const;

function takesOf({ accepts: takes }: StepSpec): string {
  const domain = takes.domain === 'either' ? '' : takes.domain;
  return [PLANES[takes.planes], domain].filter(Boolean).join(', ');
}

/** Why a step cannot follow an image of so many planes. */
function misfit({ accepts: takes }: StepSpec, mono: boolean): string | undefined {
  if (takes.planes === 'colour' && mono) return 'needs colour: add it to the cloth, or to a layer or strand in colour';
  if (takes.planes === 'mono' && !mono) return 'needs one channel: add it to a strand of one filter';
  return undefined;
}

/**
 * The steps by what they are for; one for a mask comes first where a mask is made. Those that cannot stand at the end of the image say why.
 * @param image what comes in; where that is not known yet, whatever takes mono
 */
export function addableSteps(image: Pick<PathInfo, 'planes' | 'domain'> | undefined, forMask: boolean): OfferedGroup[] {
  const mono = image?.planes !== 3;
  const names = entriesOf(STEP_GROUPS);
  const order = forMask
    ? [...names.filter(([key]) => key === 'mask'), ...names.filter(([key]) => key !== 'mask')]
    : names;
  const offered = (kind: StepSpec): OfferedStep => {
    const { domain } = kind.accepts;
    const has = image?.domain ?? 'either';
    const fits = forMask || domain === 'either' || has === 'either' || domain === has;
    const cannot = misfit(kind, mono);
    return {
      kind,
      takes: takesOf(kind),
      ...(!fits && { but: `needs ${domain} data; this is ${has}` }),
      ...(cannot && { cannot }),
    };
  };
  return order
    .map(([key, name]): OfferedGroup => {
      const steps = [...STEP_SPECS.values()].filter(({ group }) => group === key).map(offered);
      // What can stand here comes first.
      return { name, steps: [...steps.filter((one) => !one.cannot), ...steps.filter((one) => one.cannot)] };
    })
    .filter(({ steps }) => steps.length > 0);
}

/** Wishes for which there is no step: where they are fulfilled. */
export const ELSEWHERE: readonly { readonly words: readonly string[]; readonly where: string }[] = [
  {
    words: ['synthetic luminance', 'combine luminance', 'super luminance', 'average'],
    where: 'Add a strand and choose “average”: the weighted mean of several strands.',
  },
  {
    words: ['crop the picture', 'straighten the picture'],
    where: 'Select the cloth: its export area and rotation are set there.',
  },
  { words: ['blend', 'layer', 'screen', 'lighten'], where: 'Add a layer: its blend mode is set in the bench.' },
];

const plain = (text: string): string => text.toLowerCase().replaceAll('-', ' ').trim();

/**
 * How well a step is meant by what was typed, 0 (not at all) to 1: its very name first, then names that begin so, then other words of the trade
 * that are or begin so, then whatever holds every word that was typed.
 */
export function meantScore({ name, do: kind, summary: says, searchTerms: words }: StepSpec, text: string): number {
  const typed = plain(text);
  if (typed === '') return 1;
  const names = [plain(name), plain(kind)];
  const others = words.map(plain);
  if (names.includes(typed)) return 1;
  if (names.some((own) => own.startsWith(typed))) return 0.9;
  if (others.includes(typed)) return 0.8;
  if (names.some((own) => own.split(' ').some((word) => word.startsWith(typed)))) return 0.7;
  if (others.some((own) => own.startsWith(typed))) return 0.6;
  const all = [...names, ...others].join(' ');
  const parts = typed.split(/\s+/);
  if (parts.every((word) => all.includes(word))) return 0.4;
  return parts.every((word) => `${all} ${plain(says)}`.includes(word)) ? 0.2 : 0;
}

/** Where a wish is fulfilled for which there is no step; undefined where none is known. */
export function elsewhere(text: string): string | undefined {
  const typed = plain(text);
  if (typed.length < 4) return undefined;
  return ELSEWHERE.find(({ words }) => words.some((word) => word.startsWith(typed) || typed.startsWith(word)))?.where;
}
