import { levelCount, levelSize } from '../../../core/raster/levels';
import type { Recipe } from '../../../core/recipe/schema';
import type { WorkerStack } from '../../workers/protocol';
import { EngineClient } from './client';

let engine: EngineClient | undefined;
let line: Promise<unknown> = Promise.resolve();

/** What a small picture shows. */
export interface CoverRequest {
  readonly recipe: Recipe;
  readonly stacks: readonly WorkerStack[];
  readonly path: string;
  /** Screen pixels across that it should have at least. */
  readonly width: number;
}

async function draw(client: EngineClient, request: CoverRequest): Promise<ImageBitmap> {
  const { recipe, stacks, path, width } = request;
  const { frame } = await client.ask({ type: 'scene', recipe, stacks });
  const level = Math.min(
    levelCount(frame.width, frame.height) - 1,
    Math.max(0, Math.floor(Math.log2(frame.width / width))),
  );
  const rect = { x: 0, y: 0, width: levelSize(frame.width, level), height: levelSize(frame.height, level) };
  return (await client.ask({ type: 'draw', path, rect, level, display: { mode: 'bright' } })).bitmap;
}

/** A picture of the whole frame; all of them are drawn one after another by one worker. */
export function cover(request: CoverRequest): Promise<ImageBitmap> {
  engine ??= new EngineClient();
  const client = engine;
  const next = line.then(
    () => draw(client, request),
    () => draw(client, request),
  );
  line = next;
  return next;
}
