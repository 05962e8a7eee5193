import type { ReactNode } from 'react';
import type { StepParams, StepSpec } from '@owl-loom/recipe/steps/step-spec';
import { ownParams, type Recipe, type Step } from '@owl-loom/recipe/schema';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import { paramLabel } from '@owl-loom/recipe/steps/labels';
import { Choice } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { setValue, endGesture } from '../../document/edit';
import { clampToLimits } from '../../document/limits';

/** What an editor of a step is given. */
export interface EditorProps<P = unknown> {
  readonly path: string;
  readonly recipe: Recipe;
  /** The step as the recipe has it. */
  readonly step: Step;
  /** Its parameters, defaults filled in. */
  readonly params: P;
  /**
   * Sets one parameter; a default, or nothing, takes it out of the recipe.
   * @param moving whether it is part of a gesture that {@link endGesture} ends
   */
  readonly set: <K extends keyof P & string>(key: K, value: P[K] | undefined, moving?: 'moving') => void;
  /** Sets several at once. */
  readonly setAll: (values: Partial<P>, moving?: keyof P & string) => void;
}

export type StepEditor = (props: EditorProps) => ReactNode;

/** What the editor of one kind is given: it knows the types of its parameters. */
export type PropsOf<K extends StepSpec> = EditorProps<StepParams<K>>;

type Values = Readonly<Record<string, unknown>>;

/** The step with these parameters: numbers within the schema's limits, those left out that say what is so anyway. */
export function withParams(step: Step, values: Values): Step {
  const kind = STEP_SPECS.get(step.do);
  const next: Record<string, unknown> = { ...step };
  for (const [key, value] of Object.entries(values)) {
    const shape = kind?.params.shape[key];
    const usual = shape?.safeParse(undefined).data;
    if (value === undefined || (usual !== undefined && value === usual)) delete next[key];
    else next[key] = clampToLimits(step.do, key, value);
  }
  return next as Step;
}

/** The props of a step's editor; nothing where its parameters are none of its kind. */
export function editorProps(path: string, step: Step, recipe: Recipe): EditorProps<Values> | undefined {
  const parsed = STEP_SPECS.get(step.do)?.params.safeParse(ownParams(step));
  if (!parsed?.success) return undefined;
  const setAll = (values: Values, moving?: string): void => setValue(path, withParams(step, values), moving);
  return {
    path,
    step,
    recipe,
    params: parsed.data,
    setAll,
    set: (key, value, moving) => setAll({ [key]: value }, moving && key),
  };
}

/** What a numeric parameter is where the recipe says nothing. */
const usualOf = (kind: string, name: string): number | undefined => {
  const usual = STEP_SPECS.get(kind)?.params.shape[name]?.safeParse(undefined).data;
  return typeof usual === 'number' ? usual : undefined;
};

/** A slider of one numeric parameter. */
export function ParamSlider<P, K extends keyof P & string>({
  of: { params, set, step },
  name,
  label = paramLabel(step.do, name),
  whole = false,
  ...rest
}: {
  of: EditorProps<P>;
  name: P[K] extends number ? K : never;
  label?: string;
  min: number;
  max: number;
  log?: boolean;
  digits?: number;
  /** Whether it takes whole numbers alone. */
  whole?: boolean;
}) {
  return (
    <SliderField
      label={label}
      value={params[name] as number}
      onChange={(value) => set(name, (whole ? Math.round(value) : value) as P[K], 'moving')}
      onCommit={endGesture}
      usual={usualOf(step.do, name)}
      {...(whole && { step: 1, digits: 1, whole })}
      {...rest}
    />
  );
}

/** A choice between the values of one parameter. */
export function ParamChoice<P, K extends keyof P & string>({
  of: { params, set, step },
  name,
  label = paramLabel(step.do, name),
  options,
}: {
  of: EditorProps<P>;
  name: P[K] extends string ? K : never;
  label?: string;
  options: readonly { value: P[K] & string; label: string; hint?: string }[];
}) {
  return (
    <Choice
      label={label}
      value={params[name as K] as P[K] & string}
      options={options}
      onChange={(value) => set(name as K, value as P[K])}
    />
  );
}

/** A choice between no and yes. */
export function ParamSwitch<P, K extends keyof P & string>({
  of: { params, set, step },
  name,
  label = paramLabel(step.do, name),
  no,
  yes,
  hint,
}: {
  of: EditorProps<P>;
  name: P[K] extends boolean ? K : never;
  label?: string;
  no: string;
  yes: string;
  hint?: string;
}) {
  return (
    <Choice
      label={label}
      value={params[name] ? 'yes' : 'no'}
      options={[
        { value: 'no', label: no },
        { value: 'yes', label: yes, hint },
      ]}
      onChange={(value) => set(name, (value === 'yes') as P[K])}
    />
  );
}
