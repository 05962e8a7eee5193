import type { LinearMap, StarBlur, StarSource } from '../node-kernel';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Measurement, MeasurementSpec } from './index';

/** What a measurement is measured from. */
export interface MeasurementInput<S> {
  readonly spec: S;
  /** Whole images, in the order of the nodes that the kind looks at. */
  readonly images: readonly Raster[];
  /** The measurements that it stands on, in the order in which the kind names them. */
  readonly on: readonly Measurement[];
  /** 0 gives the measurement; a higher level gives an estimate of it, the noise taken as white. */
  readonly level: number;
}

/** One kind of measurement: a module of its own, which is all that the engine knows of it. */
export interface MeasurementKind<S extends MeasurementSpec = MeasurementSpec, F extends Measurement = Measurement> {
  readonly kind: S['kind'] & F['kind'];
  /** What is measured, as people read it before the name of the image. */
  readonly called: string;
  /** Raised whenever the measurement begins to give other numbers; it is part of every key. */
  readonly version: number;
  /** On the recipe's frame, or on the image's own place where it is still to be brought there. */
  readonly grid: 'frame' | 'own';
  /** Whether the planes of a colour image are measured of each by itself, side by side. */
  readonly planes: 'apart' | 'together';
  /** Which of the spec's nodes it must see the pixels of; all of them where it is left out. */
  pixelInputs?(spec: S): readonly number[];
  /** Measurements that it stands on. */
  dependsOn?(spec: S): readonly MeasurementSpec[];
  /** @throws UserError where the images do not allow it */
  measure(from: MeasurementInput<S>): F;
  /** The measurement of `a + b·x` from that of x; undefined where these lines do not allow it. */
  propagateLinear?(figure: F, lines: LinearMap): F | undefined;
  /** The measurement of an image whose stars are those of its inputs' planes, softened perhaps; the measurements by input. */
  inheritStars?(figures: ReadonlyMap<number, F | undefined>, from: readonly StarSource[], softening?: StarBlur): F;
  /** Pixels of the level from which it is estimated while things move, where fewer than usual will do. */
  readonly estimatePixels?: number;
  /** What stands in while things move, until the server has measured it; one that has none is estimated from a coarse level. */
  placeholder?(spec: S, planes: number): F;
}

/** Gives a measurement kind its types; the engine holds all kinds in one list. */
export const defineMeasurement = <S extends MeasurementSpec, F extends Measurement>(
  kind: MeasurementKind<S, F>,
): MeasurementKind => kind as unknown as MeasurementKind;
