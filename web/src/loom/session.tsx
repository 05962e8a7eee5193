import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react';
import type { StackInfo } from '../../../core/engine/graph';
import type { Figure } from '../../../core/figures/index';
import type { DescribeReply, DrawReply, SceneReply, WorkerStack } from '../../workers/protocol';
import { RecentPictures } from '../engine/bitmaps';
import { type EngineClient, takeEngine } from '../engine/client';
import { knownBefore } from '../engine/figures';
import { type Look, PictureLoop } from '../engine/loop';
import type { StackRow } from '../store/api';
import { useApp } from '../store/store';
import { withoutMask } from './masks';
import { Settler } from './settler';

/** The newest picture of the chosen image. */
export interface Shown {
  readonly reply: DrawReply;
  readonly path: string;
  readonly fine: boolean;
}

interface Session {
  readonly engine: EngineClient;
  readonly scene: SceneReply | undefined;
  readonly shown: Shown | undefined;
  /** Why the chosen image cannot be shown; the last good picture stays. */
  readonly fault: string | undefined;
  readonly described: DescribeReply | undefined;
  /** True while figures on screen are guesses. */
  readonly settling: boolean;
  readonly look: (look: Look) => void;
  /** Has what charts and marks want measured, although the picture stays the same. */
  readonly measureAgain: () => void;
}

const SessionContext = createContext<Session | undefined>(undefined);

export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error('no session');
  return session;
}

/** A stack's row as the worker needs it. */
export function workerStack(row: StackRow): WorkerStack {
  const info: StackInfo = {
    id: row.pixels,
    width: row.width,
    height: row.height,
    planes: row.planes === 3 ? 3 : 1,
    domain: row.domain,
    exposure: row.exposure ?? undefined,
    wcs: row.wcs ?? undefined,
  };
  return { name: row.name, info };
}

/** Holds the worker for the open recipe: sends it every change, takes its pictures, and has guessed figures measured when things rest. */
export function SessionProvider({
  target,
  stacks,
  children,
}: {
  target: string;
  stacks: readonly StackRow[];
  children: ReactNode;
}) {
  const draft = useApp((state) => state.draft.recipe);
  const chosen = useApp((state) => state.draft.chosen);
  const unmasked = useApp((state) => state.view.unmasked);
  const recipe = useMemo(() => (draft && unmasked ? withoutMask(draft, chosen) : draft), [draft, unmasked, chosen]);
  const engine = useMemo(takeEngine, []);
  const [scene, setScene] = useState<SceneReply>();
  const [shown, setShown] = useState<Shown>();
  const [fault, setFault] = useState<string>();
  const [described, setDescribed] = useState<DescribeReply>();
  const [settling, setSettling] = useState(false);
  const lastLook = useRef<Look>(undefined);
  const describeTimer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const sceneNow = useRef<SceneReply>(undefined);
  const given = useMemo(() => stacks.map(workerStack), [stacks]);

  const { loop, settler } = useMemo(() => {
    const recent = new RecentPictures();
    const made: PictureLoop = new PictureLoop(engine, {
      scene: (reply) => {
        sceneNow.current = reply;
        setScene(reply);
        setFault(undefined);
      },
      picture: (reply, path, fine) => {
        setFault(undefined);
        setShown({ reply, path, fine });
        recent.took(reply);
        setSettling(reply.guessed.length > 0);
        if (lastLook.current) truth.pictureCame(lastLook.current);
        clearTimeout(describeTimer.current);
        // What was measured is for reading: while things move, the picture goes first.
        describeTimer.current = setTimeout(
          () => void engine.ask({ type: 'describe' }).then(setDescribed, () => setDescribed(undefined)),
          fine ? 0 : 120,
        );
      },
      fault: setFault,
    });
    const truth = new Settler(
      target,
      engine,
      (path) => sceneNow.current?.paths[path]?.domain,
      () => made.again(),
    );
    return { loop: made, settler: truth };
  }, [engine, target]);

  useEffect(
    () => () => {
      loop.close();
      clearTimeout(describeTimer.current);
      settler.changed();
      engine.close();
    },
    [loop, settler, engine],
  );

  useEffect(() => {
    if (!recipe) return;
    settler.changed();
    // What the server knows of a recipe newly opened makes its first picture the true one.
    if (!sceneNow.current) {
      const learn = async (figures: Readonly<Record<string, Figure>>) =>
        void (await engine.ask({ type: 'figures', figures }));
      loop.after(knownBefore({ target, recipe, paths: ['cloth'], also: [] }, learn));
    }
    loop.setScene(recipe, given);
  }, [loop, settler, engine, target, recipe, given]);

  const look = useCallback(
    (next: Look) => {
      if (!lastLook.current) settler.opened(next);
      lastLook.current = next;
      loop.setLook(next);
    },
    [loop, settler],
  );

  const measureAgain = useCallback(() => {
    settler.changed();
    loop.again();
  }, [settler, loop]);

  const value = useMemo(
    () => ({ engine, scene, shown, fault, described, settling, look, measureAgain }),
    [engine, scene, shown, fault, described, settling, look, measureAgain],
  );
  return <SessionContext value={value}>{children}</SessionContext>;
}
