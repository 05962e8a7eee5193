import { z } from 'zod';
import { type BlendMode, BLENDS } from '@owl-loom/algorithms/blend/modes';
import { STEP_SPECS } from './steps/index';
import { colour, hold, id, rectangle } from './schema-primitives';
import { LIMITS, limited, listed } from './limits';
import { hueRange, maskSources, paint } from './mask-schema';
import { keysOf } from '@owl-loom/base/typed-keys';

/** Name and version that every recipe carries. */
export const FORMAT = 'owl-loom-recipe';
export const VERSION = 1;

const opacity = z.number().min(0).max(1);
const weights = z
  .record(z.string(), z.number())
  .refine((all) => Object.keys(all).length <= LIMITS.entries, `at most ${LIMITS.entries} weights may stand here`);

/** What any step may carry beside its parameters. */
const stepExtras = {
  off: z.boolean().optional(),
  name: z.string().max(120).optional(),
  opacity: opacity.optional(),
  mask: z.lazy((): z.ZodType => maskUse).optional(),
  hold: hold.optional(),
};

function stepSchema() {
  const of = (kind: string, shape: z.ZodRawShape) =>
    z.strictObject({ do: z.literal(kind), ...shape, ...stepExtras }).meta({ id: `step-${kind}` });
  const all = [...STEP_SPECS.values()].map((kind) => of(kind.do, kind.params.shape));
  return z
    .discriminatedUnion('do', all as [(typeof all)[number], ...(typeof all)[number][]])
    .meta({ id: 'step', description: 'One operation with its parameters; which keys it has depends on `do`.' });
}

/** One operation with its parameters; which keys it has depends on `do`. */
export interface Step {
  do: string;
  off?: boolean;
  name?: string;
  opacity?: number;
  mask?: string | Mask;
  hold?: Record<string, number | string | number[]>;
  [parameter: string]: unknown;
}

/** A step's own parameters, without what any step may carry. */
export function ownParams(step: Step): Record<string, unknown> {
  const { do: _, ...rest } = step;
  return Object.fromEntries(Object.entries(rest).filter(([key]) => !Object.hasOwn(stepExtras, key)));
}

export interface Mix {
  mix: {
    red?: Record<string, number>;
    green?: Record<string, number>;
    blue?: Record<string, number>;
    luminance?: Record<string, number>;
  };
  weights?: 'as-is' | 'share';
  /** Columns whose weights count as they are although the others are shared. */
  asIs?: ('red' | 'green' | 'blue' | 'luminance')[];
  gain?: Record<string, number>;
  /** Switched off for a look: their numbers stay and do not count. */
  off?: { strands?: string[]; columns?: ('red' | 'green' | 'blue' | 'luminance')[] };
}

export type Source =
  | { stack: string; plane?: 'red' | 'green' | 'blue' }
  | { strand: string }
  | Mix
  | { average: string[]; by?: 'equal' | 'exposure' | 'signal' }
  | { formula: string }
  | { colour: string }
  | { layers: Layer[] }
  | { below: true };

export interface Mask {
  id?: string;
  of: Source | { starMask: string; grow?: number };
  /** Where the image shows a family of hues, in place of its luminance. */
  hue?: z.input<typeof hueRange>;
  steps?: Step[];
  paint?: z.input<typeof paint>[];
  invert?: boolean;
}

export interface Layer {
  id?: string;
  name?: string;
  of: Source;
  steps?: Step[];
  blend?: BlendMode;
  opacity?: number;
  mask?: string | Mask;
  visible?: boolean;
}

export interface Strand {
  id: string;
  from: Source;
  steps?: Step[];
}

export interface Recipe {
  format: typeof FORMAT;
  version: typeof VERSION;
  name?: string;
  sky?: z.infer<typeof rectangle>;
  frame?: string;
  strands: Strand[];
  masks?: (Mask & { id: string })[];
  cloth?: {
    layers: Layer[];
    steps?: Step[];
    extent?: 'frame' | 'common' | z.infer<typeof rectangle>;
    orient?: { turn?: 0 | 90 | 180 | 270; flip?: 'none' | 'horizontal' | 'vertical' | 'both'; degrees?: number };
  };
}

export const step = stepSchema();
const steps = limited('steps', step).optional();

const mixSource = z.strictObject({
  mix: z.strictObject({
    red: weights.optional(),
    green: weights.optional(),
    blue: weights.optional(),
    luminance: weights.optional(),
  }),
  weights: z.enum(['as-is', 'share']).optional(),
  asIs: z
    .array(z.enum(['red', 'green', 'blue', 'luminance']))
    .max(LIMITS.entries)
    .optional()
    .meta({ description: 'Columns whose weights count as they are although the others are shared.' }),
  gain: weights.optional(),
  off: z
    .strictObject({
      strands: listed(z.string()).optional(),
      columns: listed(z.enum(['red', 'green', 'blue', 'luminance'])).optional(),
    })
    .optional(),
});

const sources = [
  z.strictObject({ stack: z.string().min(1), plane: z.enum(['red', 'green', 'blue']).optional() }),
  z.strictObject({ strand: z.string() }),
  mixSource,
  z.strictObject({ average: listed(z.string()).min(1), by: z.enum(['equal', 'exposure', 'signal']).optional() }),
  z.strictObject({ formula: z.string().max(20_000) }),
  z.strictObject({ colour }),
  z.strictObject({ layers: z.lazy((): z.ZodType => limited('layers', layer).min(1)) }),
  z.strictObject({ below: z.literal(true) }),
] as const;

/** Where an image comes from: exactly one of these keys decides. */
export const source = z
  .union(sources)
  .meta({ id: 'source', description: 'Where an image comes from: exactly one of these keys decides.' });

const maskBody = {
  of: z.union([...sources, maskSources[0]]),
  hue: hueRange.optional(),
  steps,
  paint: limited('paint', paint).optional(),
  invert: z.boolean().optional(),
};

export const maskUse = z
  .union([z.string(), z.strictObject({ id: id.optional(), ...maskBody })])
  .meta({ id: 'mask', description: 'A shared mask by its id, or one written in place.' });

export const layer = z
  .strictObject({
    id: id.optional(),
    name: z.string().max(120).optional(),
    of: source,
    steps,
    blend: z.enum(keysOf(BLENDS)).optional(),
    opacity: opacity.optional(),
    mask: maskUse.optional(),
    visible: z.boolean().optional(),
  })
  .meta({ id: 'layer', description: 'One sheet of the cloth.' });

/** The whole recipe, as it stands in a file. Defaults are not filled in, so that a recipe reads back as it was written. */
export const recipeSchema = z.strictObject({
  format: z.literal(FORMAT),
  version: z.literal(VERSION),
  name: z.string().max(200).optional(),
  sky: rectangle.optional(),
  frame: z.string().optional(),
  strands: limited('strands', z.strictObject({ id, from: source, steps })),
  masks: limited('masks', z.strictObject({ id, ...maskBody })).optional(),
  cloth: z
    .strictObject({
      layers: limited('layers', layer),
      steps,
      extent: z.union([z.enum(['frame', 'common']), rectangle]).optional(),
      orient: z
        .strictObject({
          turn: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]).optional(),
          flip: z.enum(['none', 'horizontal', 'vertical', 'both']).optional(),
          degrees: z.number().optional(),
        })
        .optional(),
    })
    .optional(),
});
