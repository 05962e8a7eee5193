import type { z } from 'zod';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Domain } from '@owl-loom/image/pixel-function';

/** Where a new step is to stand, as far as its parameters depend on that. */
export interface NewStepContext {
  /** Ids of the other strands, in the order of the recipe. */
  readonly others: readonly string[];
  readonly frame: Rect;
  /** The colour of the strand that it stands on, or that its layer shows, `#rrggbb`; left out where it has none of its own. */
  readonly colour?: string;
}

/** What steps are needed for, in the order of the work. */
export const STEP_GROUPS = {
  place: 'Geometry',
  sky: 'Sky, brightness, colour balance',
  lines: 'Emission lines',
  detail: 'Noise and detail',
  stars: 'Stars and blemishes',
  show: 'Stretch and tone',
  colour: 'Colour',
  mask: 'Masks',
} as const;

/** What a recipe and the page know of an operation on a strand: its parameters and its texts. What it does to pixels is in the engine. */
export interface StepSpec<S extends z.ZodObject = z.ZodObject, R = unknown> {
  readonly do: string;
  /** As people read it. */
  readonly name: string;
  /** What it does, in a line. */
  readonly summary: string;
  /** What to look for, and what goes wrong when it is too much. */
  readonly hints: { readonly for: string; readonly tooMuch: string };
  /** When one needs it. */
  readonly group: keyof typeof STEP_GROUPS;
  /** Other words of the trade for it, by which people look for it. */
  readonly searchTerms: readonly string[];
  readonly params: S;
  /** Parameters whose key is no word that people read: key to label. */
  readonly labels?: { readonly [K in keyof z.output<S>]?: string };
  readonly accepts: { readonly planes: 'mono' | 'colour' | 'either'; readonly domain: Domain };
  readonly produces: { readonly domain: 'same' | Domain };
  /** What the report says was measured; left out where nothing is, or its form is of no interest to an editor. */
  readonly reports?: z.ZodType<R>;
  /** What the report says was measured that `hold` can pin; left out where there is nothing to pin. */
  readonly pinnable?: readonly string[];
  /** Whether it works on stars where they stand: after a step that removed them it has nothing to do, and says so. */
  readonly needsStars?: true;
  /**
   * Whether its result is kept at full size once it has been made, so that what comes after it starts from the truth on every level. For
   * steps that a coarse level shows otherwise than they are.
   */
  readonly cacheResult?: true;
  /** What a step newly made says beside its kind; left out where the defaults are a good beginning. */
  initialParams?(where: NewStepContext): z.input<S>;
  /** Ids of other strands that the step reads. */
  strandsRead?(params: z.output<S>): string[];
  /** Whether it only moves the image. Moves of one strand are made in one resampling. */
  readonly moves?: true;
}

/** The parameters of a kind, defaults filled in. */
export type StepParams<K extends StepSpec> = K extends StepSpec<infer S> ? z.output<S> : never;

/** What a kind reports of what it measured. */
export type StepReport<K extends StepSpec> = K extends StepSpec<z.ZodObject, infer R> ? R : never;

/** Gives a step's description the types of its own parameters, and of what it reports. */
export const defineStep = <S extends z.ZodObject, R = unknown>(spec: StepSpec<S, R>): StepSpec<S, R> => spec;
