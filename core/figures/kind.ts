import type { Lines, Softening, StarsFrom } from '../engine/kernel';
import type { Raster } from '../raster/raster';
import type { Figure, FigureSpec } from './index';

/** What a figure is measured from. */
export interface Evidence<S> {
  readonly spec: S;
  /** Whole images, in the order of the nodes that the kind looks at. */
  readonly images: readonly Raster[];
  /** The figures that it stands on, in the order in which the kind names them. */
  readonly on: readonly Figure[];
  /** 0 gives the figure; a higher level gives a guess at it, the noise taken as white. */
  readonly level: number;
}

/** One kind of figure: a module of its own, which is all that the engine knows of it. */
export interface FigureKind<S extends FigureSpec = FigureSpec, F extends Figure = Figure> {
  readonly kind: S['kind'] & F['kind'];
  /** What is measured, as people read it before the name of the image. */
  readonly called: string;
  /** Raised whenever the measurement begins to give other numbers; it is part of every key. */
  readonly version: number;
  /** On the recipe's frame, or on the image's own place where it is still to be brought there. */
  readonly place: 'frame' | 'own';
  /** Whether the planes of a colour image are measured of each by itself, side by side. */
  readonly planes: 'apart' | 'together';
  /** Which of the spec's nodes it must see the pixels of; all of them where it is left out. */
  looksAt?(spec: S): readonly number[];
  /** Figures that it stands on. */
  standsOn?(spec: S): readonly FigureSpec[];
  /** @throws UserError where the images do not allow it */
  measure(from: Evidence<S>): F;
  /** The figure of `a + b·x` from that of x; undefined where these lines do not allow it. */
  carry?(figure: F, lines: Lines): F | undefined;
  /** The figure of an image whose stars are those of its inputs' planes, softened perhaps; the figures by input. */
  gather?(figures: ReadonlyMap<number, F | undefined>, from: readonly StarsFrom[], softening?: Softening): F;
  /** Pixels of the level from which it is guessed while things move, where fewer than usual will do. */
  readonly guessedFrom?: number;
  /** What stands in while things move, until the server has measured it; one that has none is guessed from a coarse level. */
  standIn?(spec: S, planes: number): F;
}

/** Gives a figure kind its types; the engine holds all kinds in one list. */
export const figureKind = <S extends FigureSpec, F extends Figure>(kind: FigureKind<S, F>): FigureKind =>
  kind as unknown as FigureKind;
