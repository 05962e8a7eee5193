import { UserError } from '@owl-loom/base/errors';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Layer, Recipe, Source, Step, Strand } from '@owl-loom/recipe/schema';
import { stepOwners, strandsReadBySource } from '@owl-loom/recipe/walk';
import { isMoveStep } from '@owl-loom/recipe/steps/index';
import { buildLayers } from './cloth';
import { resolveMask, buildSharedMasks } from './mask';
import { buildSource } from './source';
import { buildSteps } from './steps';
import { BuildContext, type BuilderImage } from './context';
import { type Graph, dependencyClosure, type StackInfo } from '../graph';

/** Ids of one kind must differ wherever they stand, in nested layers and masks written in place as well. */
function uniqueIds(recipe: Recipe): void {
  const seen = new Map<string, string>();
  for (const { kind, id, path } of stepOwners(recipe)) {
    if (id === undefined) continue;
    const before = seen.get(`${kind} ${id}`);
    if (before !== undefined) {
      throw new UserError(
        'repeated-id',
        `The id “${id}” is used twice (also at ${before}). Give each strand, mask and layer its own id.`,
        `${path}.id`,
      );
    }
    seen.set(`${kind} ${id}`, path);
  }
}

/** The stack on whose pixels the recipe is made: that of the first strand with a stack, or of the strand named by `frame`. */
function frameStack(recipe: Recipe): string {
  const byId = new Map(recipe.strands.map((strand) => [strand.id, strand]));
  const rootOf = (source: Source, seen: Set<string>): string | undefined => {
    if ('stack' in source) return source.stack;
    if ('layers' in source) return source.layers.map(({ of }) => rootOf(of, seen)).find((root) => root !== undefined);
    for (const id of strandsReadBySource(source)) {
      const strand = byId.get(id);
      if (!strand || seen.has(id)) continue;
      seen.add(id);
      const root = rootOf(strand.from, seen);
      if (root) return root;
    }
    return undefined;
  };
  if (recipe.frame !== undefined) {
    const strand = byId.get(recipe.frame);
    if (!strand) throw new UserError('unknown-strand', `Frame strand “${recipe.frame}” not found.`, 'frame');
    const root = rootOf(strand.from, new Set([strand.id]));
    if (!root)
      throw new UserError(
        'no-frame',
        `${recipe.frame} has no stack and so no size. Choose a strand made from a stack as the frame.`,
        'frame',
      );
    return root;
  }
  const sources = [
    ...recipe.strands.map((strand) => strand.from),
    ...(recipe.cloth?.layers ?? []).map((layer) => layer.of),
  ];
  const first = sources.find((source) => 'stack' in source);
  if (first && 'stack' in first) return first.stack;
  throw new UserError(
    'no-frame',
    'No strand comes from a stack, so the picture has no size. Add a strand from a stack.',
    'strands',
  );
}

/** Gives strands on demand, each made once. */
function strandMaker(recipe: Recipe, context: () => BuildContext): (id: string, path: string) => BuilderImage {
  const indexOf = new Map(recipe.strands.map((strand, i) => [strand.id, i]));
  const make = (strand: Strand, path: string): BuilderImage => {
    const ctx = context();
    const nested = (layers: readonly Layer[], at: string) => buildLayers(ctx, layers, at);
    const start = buildSource(ctx, strand.from, `${path}.from`, nested);
    ctx.byPath.set(`${path}.from`, start.node);
    const image = buildSteps(ctx, start, strand.steps, `${path}.steps`, (input) => input);
    ctx.byPath.set(path, image.node);
    return image;
  };
  return (id, path) => {
    const index = indexOf.get(id);
    if (index === undefined)
      throw new UserError(
        'unknown-strand',
        `Strand “${id}” not found. Available: ${recipe.strands.map((s) => s.id).join(', ') || 'none'}.`,
        path,
      );
    const ctx = context();
    return ctx.named.once(`strand ${id}`, id, path, () =>
      ctx.withWarnings(() => make(recipe.strands[index], `strands[${index}]`)),
    );
  };
}

/** Strands that the cloth is made of, and its visible layers that were moved, each where it ends. */
function partsOf(recipe: Recipe, ctx: BuildContext, cloth: number): Graph['coverageParts'] {
  const used = new Set(dependencyClosure(ctx.nodes, cloth));
  const moves = (steps: readonly Step[]) => steps.some((step) => !step.off && isMoveStep(step.do));
  return [...stepOwners(recipe)].flatMap(({ kind, path, steps, visible }) => {
    const node = ctx.byPath.get(path);
    const counts = kind === 'strand' || (kind === 'layer' && visible && moves(steps));
    return counts && node !== undefined && used.has(node) ? [{ path, node }] : [];
  });
}

/**
 * A recipe made ready to compute. Faults in one strand or in the cloth are kept in `faults`, and whatever does not depend on them is
 * made all the same.
 * @throws UserError where the recipe as a whole makes no sense: repeated ids, no frame
 */
export function buildGraph(recipe: Recipe, stacks: ReadonlyMap<string, StackInfo>): Graph {
  uniqueIds(recipe);
  const frameName = frameStack(recipe);
  const stack = stacks.get(frameName);
  if (!stack) {
    const i = recipe.strands.findIndex((strand) => 'stack' in strand.from && strand.from.stack === frameName);
    const known = [...stacks.keys()];
    throw new UserError(
      'missing-stack',
      `There is no stack named "${frameName}"; ${known.length ? `there are ${known.join(', ')}` : 'none has been given'}.`,
      i < 0 ? undefined : `strands[${i}].from.stack`,
    );
  }
  const frame: Rect = { x: 0, y: 0, width: stack.width, height: stack.height };
  const strand = strandMaker(recipe, () => ctx);
  const ctx: BuildContext = new BuildContext(recipe, stacks, frame, frameName, strand, (use, path, below) =>
    resolveMask(ctx, use, path, below, buildLayers),
  );

  const strands = new Map<string, number>();
  recipe.strands.forEach(({ id }, i) => {
    try {
      strands.set(id, strand(id, `strands[${i}]`).node);
    } catch (error) {
      ctx.addError(error, `strands[${i}]`);
    }
  });
  buildSharedMasks(ctx, buildLayers);

  let cloth: BuilderImage | undefined;
  if (recipe.cloth) {
    try {
      const layers = buildLayers(ctx, recipe.cloth.layers, 'cloth.layers');
      cloth = buildSteps(ctx, layers, recipe.cloth.steps, 'cloth.steps', (input) => input);
      ctx.byPath.set('cloth', cloth.node);
    } catch (fault) {
      ctx.addError(fault, 'cloth');
    }
  }
  const parts = cloth ? partsOf(recipe, ctx, cloth.node) : [];
  return {
    recipe,
    nodes: ctx.nodes,
    frame,
    frameStack: frameName,
    byPath: ctx.byPath,
    strands,
    layers: ctx.layers,
    cloth: cloth?.node,
    coverageParts: parts,
    commonAreaSpec:
      recipe.cloth?.extent === 'common' && parts.length > 0
        ? { kind: 'common', nodes: [...new Set(parts.map(({ node }) => node))].sort((a, b) => a - b) }
        : undefined,
    withStars: ctx.withStars,
    warnings: [...ctx.sizeMismatches.values(), ...ctx.warnings],
    faults: ctx.faults,
  };
}
