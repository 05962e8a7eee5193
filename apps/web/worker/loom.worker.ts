import { userMessageOf, UserError } from '@owl-loom/base/errors';
import { wasmKernels } from '@owl-loom/image/kernels/wasm';
import type { WorkerReply, DrawReply, WorkerMessage, WorkerRequest } from './protocol';
import { RecipeWorker } from './recipe-worker';

const scene = new RecipeWorker();
// Kernels are made ready before the first recipe comes.
wasmKernels();

async function handle(request: WorkerRequest): Promise<unknown> {
  switch (request.type) {
    case 'scene':
      return scene.set(request.recipe, request.stacks, request.beside);
    case 'figures':
      return scene.addMeasurements(request.figures, request.failed);
    case 'guessed':
      return scene.guessed();
    case 'guesses':
      scene.addEstimates(request.guesses);
      return null;
    case 'proof':
      scene.addProof(request.hash);
      return null;
    case 'draw':
      return scene.draw(request.path, request.rect, request.level, request.display);
    case 'probe':
      return scene.probe(request.x, request.y, request.paths);
    case 'histogram':
      return scene.histogram(request.path);
    case 'colours':
      return scene.colours(request.path, request.rect);
    case 'region':
      return scene.region(request.rect, request.paths);
    case 'quiet':
      return scene.findDarkestFlatRect(request.paths);
    case 'touched':
      return scene.touched(request);
    case 'reach':
      return scene.valueRange(request.path);
    case 'origin':
      return scene.origin(request.rect);
    case 'guard':
      return scene.guard(request.rect);
    case 'guarded':
      return scene.guarded();
    case 'edges':
      return scene.edges();
    case 'describe':
      return scene.describe();
  }
}

const bitmapsOf = ({ bitmap, other }: DrawReply): ImageBitmap[] => (other ? [bitmap, other] : [bitmap]);

// One at a time and in order: a recipe set while a picture is computed must not change it half-way.
let line = Promise.resolve();

self.onmessage = ({ data }: MessageEvent<WorkerMessage>) => {
  line = line.then(async () => {
    try {
      const ok = await handle(data.request);
      const transfer = ok && typeof ok === 'object' && 'bitmap' in ok ? bitmapsOf(ok as DrawReply) : [];
      self.postMessage({ id: data.id, ok } satisfies WorkerReply, { transfer });
    } catch (error) {
      const message =
        error instanceof UserError ? userMessageOf(error) : error instanceof Error ? error.message : String(error);
      self.postMessage({ id: data.id, fault: message } satisfies WorkerReply);
    }
  });
};
