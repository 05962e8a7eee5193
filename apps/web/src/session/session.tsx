import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react';
import { workerStack } from '../engine/worker-stack';
import type { DescribeReply, DrawReply, RecipeInfo } from '../../worker/protocol';
import { BitmapRecycler } from '../engine/bitmaps';
import { type WorkerClient, takeEngine } from '../engine/worker-client';
import { fetchKnownMeasurements, type Learn } from '../engine/measurements';
import { type ViewRequest, RenderLoop } from '../engine/render-loop';
import type { StackRow } from '@owl-loom/api/stacks';
import { useAppSelector, store } from '../store/store';
import { withoutMask } from './masks';
import { toldOf } from './use-idle-query';
import { type RefinementTarget, RefinementScheduler } from './refinement';
import { type ComparedRecipe, useComparedRecipe } from './comparison';
import type { Recipe } from '@owl-loom/recipe/schema';
import { useKeyedEffect } from '../ui/use-keyed-effect';

/** The newest picture of the chosen image. */
export interface ShownPicture {
  readonly reply: DrawReply;
  readonly path: string;
  readonly fine: boolean;
  /** The state of the recipe that it shows. */
  readonly recipe: Recipe | undefined;
  /** Names for the pixels of that state's images. */
  readonly hashes: RecipeInfo['hashes'];
}

/** What is known of the open recipe's images, besides their pixels. */
type Scene = Omit<RecipeInfo, 'hashes'>;

/** What stays while a control moves: a recipe whose numbers alone change has the same scene. */
interface Session {
  readonly engine: WorkerClient;
  readonly scene: Scene | undefined;
  /** The recipe that the picture is held against, where it is not the open one. */
  readonly beside: ComparedRecipe;
  readonly look: (look: ViewRequest) => void;
  /** Has what charts and marks want measured, although the picture stays the same. */
  readonly measureAgain: () => void;
}

/** What is on the screen: another thing with every drawing. */
interface Picture {
  readonly shown: ShownPicture | undefined;
  /** Why the chosen image cannot be shown; the last good picture stays. */
  readonly fault: string | undefined;
  /** True while measurements on screen are estimates. */
  readonly settling: boolean;
  /** The job that measures them. */
  readonly measuring: string | undefined;
}

const SessionContext = createContext<Session | undefined>(undefined);
const PictureContext = createContext<Picture>({
  shown: undefined,
  fault: undefined,
  settling: false,
  measuring: undefined,
});
const DescribedContext = createContext<DescribeReply | undefined>(undefined);
const HashesContext = createContext<RecipeInfo['hashes']>({});

export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error('no session');
  return session;
}

/** The picture that is shown; whoever asks is drawn anew with each. */
export const usePicture = (): Picture => useContext(PictureContext);

/** What was measured of the recipe as it is now. */
export const useReport = (): DescribeReply | undefined => useContext(DescribedContext);

/** Names for the pixels of all images: another record with every state of the recipe that the worker has. */
export const useHashes = (): RecipeInfo['hashes'] => useContext(HashesContext);

/** A name for an image's pixels: another one where they changed. */
export const useHash = (path: string): string | undefined => useHashes()[path];

/** Whether two scenes tell the same of the recipe's images. */
const sameScene = (a: Scene | undefined, b: Scene): boolean =>
  a !== undefined && JSON.stringify(a) === JSON.stringify(b);

/** What a look at the open recipe has to be settled for. */
function refinementTargetOf({ path, display }: ViewRequest): RefinementTarget | undefined {
  const { recipe } = store.getState().draft;
  return recipe ? { recipe, path, anchor: display.anchor } : undefined;
}

/** Holds the worker for the open recipe: sends it every change, takes its pictures, and has estimated measurements measured when things rest. */
export function LoomSessionProvider({
  target,
  stacks,
  children,
}: {
  target: string;
  stacks: readonly StackRow[];
  children: ReactNode;
}) {
  const draft = useAppSelector((state) => state.draft.recipe);
  const chosen = useAppSelector((state) => state.draft.selectedPath);
  const unmasked = useAppSelector((state) => state.view.unmasked);
  const recipe = useMemo(() => (draft && unmasked ? withoutMask(draft, chosen) : draft), [draft, unmasked, chosen]);
  const engine = useMemo(takeEngine, []);
  const [scene, setScene] = useState<Scene>();
  const [hashes, setHashes] = useState<RecipeInfo['hashes']>({});
  const [shown, setShown] = useState<ShownPicture>();
  const [fault, setFault] = useState<string>();
  const [described, setDescribed] = useState<DescribeReply>();
  const [settling, setSettling] = useState(false);
  const [measuring, setMeasuring] = useState<string>();
  const lastLook = useRef<ViewRequest>(undefined);
  const describeTimer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const sceneNow = useRef<Scene>(undefined);
  const given = useMemo(() => stacks.map(workerStack), [stacks]);

  const beside = useComparedRecipe(target);
  const besideRecipe = beside.state === 'there' ? beside.recipe : undefined;
  const besideNow = useRef<Recipe>(undefined);
  besideNow.current = besideRecipe;

  const { loop, refinement, other } = useMemo(() => {
    const recent = new BitmapRecycler();
    let hashesNow: RecipeInfo['hashes'] = {};
    const made: RenderLoop = new RenderLoop(engine, {
      scene: ({ hashes: names, ...reply }) => {
        setHashes(names);
        hashesNow = names;
        setScene((before) => (sameScene(before, reply) ? before : reply));
        sceneNow.current = reply;
        setFault(undefined);
      },
      picture: (reply, path, fine, recipe) => {
        setFault(undefined);
        setShown({ reply, path, fine, recipe, hashes: hashesNow });
        recent.took(reply);
        setSettling(reply.guessed.length > 0);
        const matter = lastLook.current && refinementTargetOf(lastLook.current);
        if (matter) truth.onPicture(matter);
        const against = lastLook.current?.display;
        // What the picture is held against settles once, while this one may go on changing.
        if (against?.otherIsBeside && against.other !== undefined && besideNow.current)
          its.onPicture({ recipe: besideNow.current, path: against.other });
        clearTimeout(describeTimer.current);
        // What was measured is for reading: while things move, the picture goes first.
        describeTimer.current = setTimeout(
          () => void engine.ask({ type: 'describe' }).then(setDescribed, () => setDescribed(undefined)),
          fine ? 0 : 120,
        );
      },
      fault: setFault,
    });
    const truth = new RefinementScheduler(
      target,
      engine,
      (path) => sceneNow.current?.paths[path]?.domain,
      () => made.again(),
      (unfinished) =>
        setScene((before) => {
          const after = before && { ...before, unfinished };
          return after && sameScene(before, after) ? before : after;
        }),
      setMeasuring,
    );
    const its = new RefinementScheduler(
      target,
      engine,
      (path) => sceneNow.current?.beside[path]?.domain,
      () => made.again(),
      // Of the recipe beside this one no bead is in view.
      () => undefined,
    );
    return { loop: made, refinement: truth, other: its };
  }, [engine, target]);

  useEffect(
    () => () => {
      loop.close();
      clearTimeout(describeTimer.current);
      refinement.changed();
      other.changed();
      engine.close();
    },
    [loop, refinement, other, engine],
  );

  // Measurements on their way belong to the state before.
  useKeyedEffect(() => () => refinement.changed(), [refinement, recipe]);
  useEffect(() => {
    if (!recipe) return;
    // What the server knows of a recipe newly opened makes its first picture the true one.
    if (!sceneNow.current) {
      const learn: Learn = async ({ figures, failed }) => void (await engine.ask({ type: 'figures', figures, failed }));
      loop.after(fetchKnownMeasurements({ target, recipe, paths: ['cloth'], also: [] }, learn));
    }
    loop.setScene(recipe, given, besideRecipe);
  }, [loop, engine, target, recipe, given, besideRecipe]);

  // The worker hears of a change before the page is drawn anew, which takes as long as a small picture.
  useEffect(
    () =>
      store.subscribe(() => {
        const { draft: now, view } = store.getState();
        if (now.recipe && sceneNow.current && !view.unmasked) loop.setScene(now.recipe, given, besideNow.current);
      }),
    [loop, given],
  );

  // Another recipe beside ends the work on the last one.
  useKeyedEffect(() => () => other.changed(), [other, besideRecipe]);

  const look = useCallback(
    (next: ViewRequest) => {
      const matter = lastLook.current ? undefined : refinementTargetOf(next);
      if (matter) refinement.opened(matter);
      lastLook.current = next;
      loop.setLook(next);
    },
    [loop, refinement],
  );

  const measureAgain = useCallback(() => {
    refinement.changed();
    loop.again();
  }, [refinement, loop]);

  const value = useMemo(
    () => ({ engine, scene, beside, look, measureAgain }),
    [engine, scene, beside, look, measureAgain],
  );
  const report = useMemo(() => (described && recipe ? toldOf(described, recipe) : undefined), [described, recipe]);
  const picture = useMemo(() => ({ shown, fault, settling, measuring }), [shown, fault, settling, measuring]);
  return (
    <SessionContext value={value}>
      <HashesContext value={hashes}>
        <DescribedContext value={report}>
          <PictureContext value={picture}>{children}</PictureContext>
        </DescribedContext>
      </HashesContext>
    </SessionContext>
  );
}
