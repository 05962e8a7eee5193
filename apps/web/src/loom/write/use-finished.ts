import { useEffect, useState } from 'react';
import { rectAtLevel, levelForPixels } from '@owl-loom/image/pyramid/pyramid';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import { useAppSelector } from '../../store/store';
import type { ViewBitmaps } from '../../image-view/paint';
import { useSession } from '../../session/session';
import type { Size } from './part';

export type Orient = NonNullable<NonNullable<Recipe['cloth']>['orient']>;

/** The finished picture as it would be written whole. */
export interface Finished {
  /** What it shows of the frame. */
  readonly extent: Rect;
  /** Its own size, once it is turned. */
  readonly size: Size;
  readonly orient: Orient;
  readonly frame: Rect;
  readonly planes: number;
  readonly stretched: boolean;
  /** A small picture of it, when that has come. */
  readonly sheet: ViewBitmaps | undefined;
}

/** Pixels of the small picture, about. */
const SMALL = 220_000;

/** The finished picture; nothing while it cannot be made. */
export function useFinishedPicture(): Finished | undefined {
  const { engine, scene } = useSession();
  const cloth = useAppSelector((state) => state.draft.recipe?.cloth);
  const [common, setCommon] = useState<Rect | null>(null);
  const [sheet, setSheet] = useState<ViewBitmaps>();
  const info = scene?.paths.cloth;
  const wanted = cloth?.extent ?? 'frame';
  useEffect(() => {
    if (wanted !== 'common') return;
    // Where nothing is covered by all, the picture's own sentence says so.
    engine.ask({ type: 'edges' }).then(
      ({ common: found }) => setCommon(found),
      () => setCommon(null),
    );
  }, [engine, wanted]);
  const frame = scene?.frame;
  const extent =
    frame && (typeof wanted === 'object' ? intersect(wanted, frame) : wanted === 'common' ? (common ?? frame) : frame);
  const key = JSON.stringify(extent);
  const there = info !== undefined;
  useEffect(() => {
    const rect = key && there ? (JSON.parse(key) as Rect) : undefined;
    if (!rect) return undefined;
    let over = false;
    const level = levelForPixels(rect, SMALL);
    engine
      .ask({ type: 'draw', path: 'cloth', rect: rectAtLevel(rect, level), level, display: { mode: 'bright' } })
      .then(
        (reply) => !over && setSheet(reply),
        () => !over && setSheet(undefined),
      );
    return () => {
      over = true;
    };
  }, [engine, key, there]);
  if (!extent || !frame || !info) return undefined;
  const orient = cloth?.orient ?? {};
  const across = orient.turn === 90 || orient.turn === 270;
  const size = { width: across ? extent.height : extent.width, height: across ? extent.width : extent.height };
  return { extent, size, orient, frame, planes: info.planes, stretched: info.domain === 'stretched', sheet };
}
