import type { Rect } from '@owl-loom/image/geometry/rect';
import type { RecipeDiagnostic } from '@owl-loom/engine/graph';
import type { Picture } from '../codecs/picture';

/** What a render says of itself. */
export interface RenderReport {
  /** Measurements by the path of what measured them. */
  readonly measured: Record<string, unknown>;
  readonly warnings: readonly RecipeDiagnostic[];
  /** Milliseconds of all cores together, by path. */
  readonly nodes: readonly { readonly id: string; readonly ms: number }[];
  /** The most memory that the process held, in bytes. */
  readonly peakMemory: number;
}

export interface Rendered {
  readonly picture: Picture;
  readonly report: RenderReport;
  /** Name of the stack that gives the frame. */
  readonly frameStack: string;
  /** The part of the frame that the picture shows. */
  readonly extent: Rect;
  readonly oriented: boolean;
  /** Names of the stacks that the picture is made of. */
  readonly stacks: readonly string[];
  /** Paths of everything that the picture is made of. */
  readonly paths: readonly string[];
}
