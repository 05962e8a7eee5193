import type { StackInfo } from '#engine/graph';
import type { FileRequest } from '../loom/write/files';
import type { Recipe } from '#recipe/schema';
import type { Pattern } from '#recipe/patterns/schema';
import type { StackMetrics } from '#recipe/stack-replacement';
import type { PlaneSummary } from '#image/stats/summary';

// What the server's lists hold, row by row.

export interface RecipeRow {
  readonly id: string;
  readonly targetId: string;
  readonly name: string;
  readonly revision: number;
  readonly createdAt: string;
  readonly updatedAt: string;
}

export interface TargetCard {
  readonly id: string;
  readonly name: string;
  readonly createdAt: string;
  readonly stacks: readonly {
    readonly id: string;
    readonly name: string;
    readonly filter: string | null;
    readonly exposure: number | null;
  }[];
  readonly recipes: readonly RecipeRow[];
  /** Picture of its latest swatch. */
  readonly cover: string | null;
}

/** An earlier state of a recipe; one that lost in a conflict has no number. */
export interface StateRow {
  readonly id: string;
  readonly recipeId: string;
  readonly number: number | null;
  readonly conflict: boolean;
  /** What someone called it. */
  readonly label: string | null;
  /** Name of its picture, once that is woven, or why it has none. */
  readonly picture: string | null;
  readonly trouble: string | null;
  readonly createdAt: string;
}

/** A kept state of a recipe; the recipe itself is asked for by its id. */
export interface SwatchRow {
  readonly id: string;
  readonly targetId: string;
  readonly recipeId: string;
  readonly name: string;
  readonly note: string;
  /** Name of its picture, once that is woven, or why it has none. */
  readonly picture: string | null;
  readonly trouble: string | null;
  readonly createdAt: string;
}

export interface StackRow {
  readonly id: string;
  readonly targetId: string;
  readonly name: string;
  readonly fileName: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly planes: number;
  readonly type: string;
  readonly divisor: number;
  readonly domain: 'linear' | 'stretched';
  readonly filter: string | null;
  /** Nanometres. */
  readonly wavelength: number | null;
  readonly exposure: number | null;
  /** Share of zeros joined to the edge, and whether they are taken for no data. */
  readonly edgeZeros: number;
  readonly edgesBlank: boolean;
  /** Why its pixels cannot be had: its file is not there, or is damaged. */
  readonly lacking: 'missing' | 'damaged' | null;
  readonly pixels: string;
  readonly object: string | null;
  readonly wcs: NonNullable<StackInfo['wcs']> | null;
  readonly figures: {
    readonly planes: readonly PlaneSummary[];
    readonly stars: readonly { readonly count: number; readonly fwhm: number | null }[];
  };
  readonly createdAt: string;
}

export interface JobRow {
  readonly id: string;
  readonly kind:
    | 'import'
    | 'measure'
    | 'render'
    | 'proof'
    | 'cover'
    | 'sheet'
    | 'swatch'
    | 'past'
    | 'mend'
    | 'verify'
    | 'archive'
    | 'restore'
    | 'backup';
  /** Null for work on the whole house. */
  readonly targetId: string | null;
  readonly state: 'queued' | 'running' | 'done' | 'failed' | 'cancelled';
  readonly title: string;
  readonly progress: number;
  /** What it is at just now, in words; null where it does not say. */
  readonly doing: string | null;
  readonly message: string | null;
  /** What came of it; a notice is for people. */
  readonly result: { readonly notice?: string } | null;
  readonly createdAt: string;
  readonly updatedAt: string;
}

/** A palette as a target can weave it. */
export interface SheetEntry {
  /** Id of one that someone kept; none for those that come with Owl Loom. */
  readonly id?: string;
  readonly name: string;
  readonly says: string;
  /** Filters that this target lacks. */
  readonly missing: readonly string[];
  /** The recipe for this target's stacks; none where filters are missing. */
  readonly recipe?: Recipe;
  /** Name of its picture on the server, and whether it lies there. */
  readonly picture?: string;
  readonly ready: boolean;
  /** Why it cannot be woven. */
  readonly trouble?: string;
}

/** A stack that a newer file took the place of, and the recipes that read it as swatches of what they were. */
export interface RenewalRow {
  readonly id: string;
  readonly stackName: string;
  readonly before: StackMetrics;
  readonly after: StackMetrics;
  readonly kept: readonly { readonly recipeId: string; readonly swatchId: string }[];
}

/** A piece of weaving that someone kept. */
export interface PatternRow {
  readonly id: string;
  readonly name: string;
  readonly says: string;
  readonly body: Pattern;
  readonly createdAt: string;
}

export interface ExportRow {
  readonly id: string;
  readonly recipeId: string;
  readonly revision: number;
  readonly fileName: string;
  readonly format: FileRequest['format'];
  readonly depth: number;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly report: { readonly warnings: readonly { readonly path: string; readonly message: string }[] };
  /** What was asked for; null for files of before that was kept. */
  readonly request: (FileRequest & { readonly recipeId: string; readonly revision: number }) | null;
  readonly sum: string | null;
  readonly createdAt: string;
}

/** Something in the trash; what went with its target is not told apart. */
export interface TrashedRow {
  readonly kind: 'target' | 'stack' | 'recipe' | 'swatch' | 'export';
  readonly id: string;
  readonly name: string;
  /** Name of the target that it is of. */
  readonly target: string | null;
  readonly deletedAt: string;
  /** When it goes for good. */
  readonly until: string;
}

/** A browser that is let in by the password. Times are milliseconds since 1970. */
export interface SessionRow {
  readonly id: string;
  readonly begun: number;
  readonly used: number;
  readonly from: string;
  /** What the browser says of itself. */
  readonly agent: string;
  /** Whether it is the one that asks. */
  readonly own: boolean;
}

/** How the house is: what the page Health tells. Sizes are bytes. */
export interface HouseReport {
  readonly version: string;
  /** When the server was started. */
  readonly since: string;
  readonly root: string;
  /** Whether people give a password first. */
  readonly guarded: boolean;
  readonly database: { readonly milliseconds: number };
  readonly queue: { readonly running: number; readonly waiting: number; readonly failedToday: number };
  readonly memory: { readonly own: number; readonly kept: number; readonly free: number; readonly total: number };
  readonly cores: number;
  readonly disk: {
    readonly free: number;
    readonly total: number;
    readonly by: Record<'originals' | 'pixels' | 'images' | 'exports' | 'pictures' | 'database' | 'other', number>;
  };
  readonly targets: readonly {
    readonly id: string;
    readonly name: string;
    readonly trashed: boolean;
    readonly stacks: number;
    readonly bytes: number;
  }[];
  readonly lacking: readonly { readonly target: string; readonly targetId: string; readonly name: string }[];
  readonly notes: readonly {
    readonly id: string;
    readonly kind: 'swept' | 'mended' | 'damaged' | 'backup';
    readonly says: string;
    readonly createdAt: string;
  }[];
}

/** What a look through everything found. */
export interface VerifyReport {
  readonly looked: Readonly<Record<string, number>>;
  readonly faults: readonly { readonly what: string; readonly says: string; readonly mended: boolean }[];
}

/** When everything is backed up by itself, where to, and when it last was. */
export interface Schedule {
  readonly every: 'never' | 'day' | 'week';
  readonly dir: string;
  readonly last: string | null;
}
