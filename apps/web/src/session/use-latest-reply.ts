import { useRef, useState } from 'react';
import type { WorkerReplies, WorkerRequest } from '../../worker/protocol';
import { useSession } from './session';
import { useKeyedEffect } from '../ui/use-keyed-effect';

/**
 * What the worker says to a question that changes while a hand moves: one at a time is asked, the newest last. The last answer stays until
 * there is another; nothing where none can be had.
 * @param question nothing while nothing is asked
 * @param stamp asked again where this changes, or the other
 */
export function useLatestReply<T extends WorkerRequest['type']>(
  question: Extract<WorkerRequest, { type: T }> | undefined,
  stamp: unknown,
  other?: unknown,
): WorkerReplies[T] | undefined {
  const { engine } = useSession();
  const [answer, setAnswer] = useState<WorkerReplies[T]>();
  const busy = useRef(false);
  const wanted = useRef<typeof question>(undefined);
  const key = question && JSON.stringify(question);

  // A question is what it says, whichever object says it.
  useKeyedEffect(() => {
    wanted.current = question;
    if (!question) setAnswer(undefined);
    if (!question || busy.current) return;
    const ask = async (): Promise<void> => {
      busy.current = true;
      try {
        while (wanted.current) {
          const next = wanted.current;
          wanted.current = undefined;
          setAnswer(await engine.ask(next));
        }
      } catch {
        // A state that cannot be computed has its sentence elsewhere; here there is just nothing.
        setAnswer(undefined);
      } finally {
        busy.current = false;
      }
    };
    void ask();
  }, [engine, key, stamp, other]);

  return answer;
}
