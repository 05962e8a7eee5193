import { useState } from 'react';
import type { WorkerReplies, WorkerRequest } from '../../../worker/protocol';
import { usePicture, useSession } from '../../session/session';
import { useKeyedEffect } from '../../ui/use-keyed-effect';

/** How long things have rested before it is asked, in milliseconds. */
const REST = 500;

/**
 * What the worker says to a question once the picture has come to rest, asked anew for every state; undefined until it is told.
 * @param image path of an image: nothing is asked while it cannot be made
 */
export function useIdleQuery<T extends 'touched' | 'reach' | 'edges'>(
  question: Extract<WorkerRequest, { type: T }>,
  image: string,
): WorkerReplies[T] | undefined {
  const { engine, scene } = useSession();
  const { shown } = usePicture();
  const [reply, setReply] = useState<WorkerReplies[T]>();
  const fine = shown?.fine === true;
  const key = JSON.stringify(question);
  // The picture's reply says that it has come to rest.
  useKeyedEffect(() => {
    if (!fine || !scene?.paths[image]) return undefined;
    let gone = false;
    // The worker does one thing after another: what comes next to the hand goes first.
    const timer = setTimeout(() => {
      engine.ask<T>(question).then(
        (found) => !gone && setReply(found),
        () => !gone && setReply(undefined),
      );
    }, REST);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [engine, key, image, fine, scene, shown?.reply]);
  return reply;
}
