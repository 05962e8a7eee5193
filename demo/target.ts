import type { Affine } from '@owl-loom/image/geometry/affine';
import type { Exposure } from './expose';
import type { Glow } from './emission';
import type { DemoStar } from './stars';

/** A file of a demo target. */
export interface DemoStack {
  /** In the file's name. */
  readonly label: string;
  /** In its FILTER card. */
  readonly filter: string;
  /** One, or red, green and blue of a colour camera. */
  readonly exposures: readonly Exposure[];
  /** Where a pixel of the target's own grid lies in this file; nowhere else where it is left out. */
  readonly moved?: Affine;
}

/** A demo target: what shines there, and how it was taken. */
export interface DemoTarget {
  readonly name: string;
  readonly folder: string;
  readonly size: { readonly width: number; readonly height: number };
  /** The middle of the picture on the sky, an invented place; degrees. */
  readonly place: { readonly ra: number; readonly dec: number };
  readonly camera: string;
  readonly telescope: string;
  readonly night: string;
  /** Light at a pixel, x from the left and y from the foot. */
  readonly glow: (x: number, y: number) => Glow;
  /** Gas lines that shine there; their maps go into the truth. */
  readonly lines: readonly ('ha' | 'oiii' | 'sii')[];
  readonly stars: () => DemoStar[];
  readonly stacks: readonly DemoStack[];
}
