import { levelCount, levelSize } from '@owl-loom/image/pyramid/pyramid';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { StackRow } from '@owl-loom/api/stacks';
import { WorkerClient } from './worker-client';
import { workerStack } from './worker-stack';

let engine: WorkerClient | undefined;
let line: Promise<unknown> = Promise.resolve();

/** A recipe that shows one stack as it is. */
const alone = ({ name }: StackRow): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  strands: [{ id: name, from: { stack: name }, steps: [] }],
});

async function draw(client: WorkerClient, row: StackRow, across: number): Promise<ImageBitmap> {
  const { frame } = await client.ask({ type: 'scene', recipe: alone(row), stacks: [workerStack(row)] });
  const level = Math.min(
    levelCount(frame.width, frame.height) - 1,
    Math.max(0, Math.floor(Math.log2(frame.width / across))),
  );
  const rect = { x: 0, y: 0, width: levelSize(frame.width, level), height: levelSize(frame.height, level) };
  return (await client.ask({ type: 'draw', path: 'strands[0]', rect, level, display: { mode: 'bright' } })).bitmap;
}

/**
 * A picture of a whole stack as it is, brightened; all of them are drawn one after another by one worker.
 * @param across screen pixels that it should have across at least
 */
export function stackCover(row: StackRow, across: number): Promise<ImageBitmap> {
  engine ??= new WorkerClient();
  const client = engine;
  const next = line.then(
    () => draw(client, row, across),
    () => draw(client, row, across),
  );
  line = next;
  return next;
}
