import { type ReactNode, useCallback, useEffect, useMemo, useState } from 'react';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { DisplayOptions, DrawReply, RecipeInfo } from '../../worker/protocol';
import { BitmapRecycler } from '../engine/bitmaps';
import { takeEngine } from '../engine/worker-client';
import { fetchMeasurements } from '../engine/measurements';
import { RenderLoop } from '../engine/render-loop';
import { workerStack } from '../engine/worker-stack';
import type { Compare } from '../image-view/compare';
import { ImageView } from '../image-view/ImageView';
import type { StackRow } from '@owl-loom/api/stacks';
import { useAppSelector } from '../store/store';
import { useKeyedEffect } from '../ui/use-keyed-effect';

interface PairStageProps {
  readonly target: string;
  readonly rows: readonly StackRow[];
  readonly recipe: Recipe;
  readonly path: string;
  readonly display: DisplayOptions;
  readonly compare: Compare;
  readonly names?: readonly [string, string];
  readonly label: string;
  /** What stands over the picture; it is told why there is none. */
  readonly children?: (error: string | undefined) => ReactNode;
}

/** Pictures of stacks that are in no recipe: one, or two under one brightness. */
export function PairStage({ target, rows, recipe, path, display, compare, names, label, children }: PairStageProps) {
  const [scene, setScene] = useState<RecipeInfo>();
  const [reply, setReply] = useState<DrawReply>();
  const [error, setFault] = useState<string>();
  const [seen, setSeen] = useState<{ rect: Rect; zoom: number }>();
  const engine = useMemo(takeEngine, []);
  const recent = useMemo(() => new BitmapRecycler(), []);
  const loop = useMemo(
    () =>
      new RenderLoop(engine, {
        scene: setScene,
        picture: (next) => {
          setReply(next);
          recent.took(next);
        },
        fault: setFault,
      }),
    [engine, recent],
  );
  useEffect(
    () => () => {
      loop.close();
      engine.close();
    },
    [loop, engine],
  );

  const text = JSON.stringify(recipe);
  // Pixels that have been made anew are asked for again.
  const mended = useAppSelector(
    ({ live }) => Object.values(live.jobs).filter(({ kind, state }) => kind === 'mend' && state === 'done').length,
  );
  // The text stands for the recipe, and what was mended is asked for again.
  useKeyedEffect(() => {
    setFault(undefined);
    loop.setScene(recipe, rows.map(workerStack));
    // Measurements that come from stars cannot be estimated on the spot.
    const controller = new AbortController();
    const paths = [path, ...(display.other ? [display.other] : []), ...(display.less ? [display.less] : [])];
    void fetchMeasurements(
      { target, recipe, paths, also: [] },
      async ({ figures, failed }) => {
        await engine.ask({ type: 'figures', figures, failed });
        loop.again();
      },
      controller.signal,
    ).then((trouble) => {
      if (!controller.signal.aborted) setFault(trouble?.message);
    });
    return () => controller.abort();
  }, [loop, engine, text, rows, target, mended]);

  const shown = JSON.stringify(display);
  // The texts stand for display and recipe.
  useKeyedEffect(() => {
    if (seen && scene?.paths[path]) loop.setLook({ path, ...seen, display });
  }, [loop, seen, path, shown, scene]);

  const onLook = useCallback((rect: Rect, zoom: number) => setSeen({ rect, zoom }), []);
  const frame = scene?.frame;
  // The same frame in a new object is no reason to show all of it anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: by its numbers
  const still = useMemo(() => frame, [frame?.width, frame?.height]);
  return (
    <ImageView
      frame={still}
      sheet={reply}
      compare={compare}
      names={names}
      onLook={onLook}
      marks={{ 'data-testid': 'stack-picture', 'data-shown': reply ? path : undefined, 'aria-label': label }}
    >
      {children?.(error)}
    </ImageView>
  );
}
