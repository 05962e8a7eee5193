import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { buildGraph } from '../../core/engine/build';
import type { StackInfo } from '../../core/engine/graph';
import { keyIn } from '../../core/engine/plan';
import { UserError } from '../../core/errors';
import type { Figure, FigureSpec } from '../../core/figures/index';
import type { Ends } from '../../core/raster/ends';
import { FORMAT, VERSION } from '../../core/recipe/schema';
import { countOf } from '../../core/stars/field';
import { guessExposure, guessFilter, guessWavelength } from '../../core/stack/filter';
import { StackEntity } from '../db/entities';
import { openFile } from '../io/bytes';
import { openImage } from '../io/image-file';
import { writePyramid } from '../render/pyramid';
import { divisorOf, guessDomain, loadPixels, sourceOf, typeName } from '../render/stack';
import { needRoom, pyramidBytes } from '../system/room';
import { factsOf, keepBefore, noteRenewal } from './renewal';
import type { JobHandler } from './jobs';
import type { Pool } from '../render/pool';
import { Turns } from './turns';
import { type Studio, dropUnused, figureStore, pixelId, sizeOf, stackFile } from './studio';

export const importPayload = z.strictObject({
  hash: z.string().regex(/^[0-9a-f]{64}$/),
  fileName: z.string().max(255),
  /** Id of the stack whose pixels these become; a new stack where it is left out. */
  into: z.string().max(36).optional(),
  /** Number to divide by; guessed where it is left out. */
  divisor: z.number().positive().optional(),
  /** Whether zeros joined to the edge are no data. */
  edgesBlank: z.boolean().optional(),
});

/** Names are alike to the database that differ by case or accents alone. */
const { compare } = new Intl.Collator('und', { sensitivity: 'base' });

/** Letters of a filter's name, and of the part of a stack's name that comes from it, at most. */
const LONGEST = { filter: 64, name: 48 } as const;

/** The first letters of a text, none of them torn. */
const cut = (text: string, most: number): string => [...text.slice(0, 2 * most)].slice(0, most).join('').trim();

/** A name that no other stack of the target has. */
async function freeName(studio: Studio, targetId: string, wanted: string): Promise<string> {
  const rows = await studio.data.getRepository(StackEntity).find({ where: { targetId }, select: { name: true } });
  const isFree = (name: string): boolean => rows.every((row) => compare(row.name, name) !== 0);
  const base = cut(wanted, LONGEST.name);
  if (isFree(base)) return base;
  for (let n = 2; ; n++) if (isFree(`${base}-${n}`)) return `${base}-${n}`;
}

/**
 * Sees that a file that cannot become a stack leaves nothing behind. One whose import was put down with the server stays: it is taken up
 * again at the next start.
 */
const cleanly =
  (studio: Studio, work: JobHandler): JobHandler =>
  async (run) => {
    try {
      return await work(run);
    } catch (fault) {
      if (!run.signal.aborted || run.signal.reason instanceof UserError)
        await dropUnused(
          studio,
          { divisor: 1, edgesBlank: false, ...importPayload.parse(run.job.payload) },
          run.job.id,
        );
      throw fault;
    }
  };

type Domain = 'linear' | 'stretched';

/** Keeps what was measured on the way in as the figures of the stack, so that no recipe need measure them again. */
async function keepFigures(
  studio: Studio,
  info: StackInfo,
  found: readonly Awaited<ReturnType<Pool['survey']>>[],
  ends: Ends | null,
): Promise<void> {
  const graph = buildGraph(
    { format: FORMAT, version: VERSION, strands: [{ id: 'stack', from: { stack: 'stack' } }] },
    new Map([['stack', info]]),
  );
  const nodes = [0] as const;
  const kept: [FigureSpec, Figure][] = [
    [
      { kind: 'tone', nodes },
      { kind: 'tone', planes: found.map((f) => f.tone) },
    ],
    [
      { kind: 'stars', nodes },
      { kind: 'stars', planes: found.map((f) => f.stars) },
    ],
    [
      { kind: 'counts', nodes, stretched: info.domain !== 'linear' },
      { kind: 'counts', planes: found.map((f) => f.counts) },
    ],
    [
      { kind: 'middle', nodes },
      { kind: 'middle', planes: found.map(({ summary: { median, mean } }) => ({ median, mean })) },
    ],
    [
      { kind: 'ends', nodes },
      { kind: 'ends', ends },
    ],
  ];
  const store = figureStore(studio.data);
  for (const [spec, figure] of kept) await store.set(keyIn(graph, spec), figure);
}

/** What a file holds, measured, its pyramid written. */
async function takeIn(
  studio: Studio,
  { hash, fileName, divisor: given, edgesBlank = false }: z.output<typeof importPayload>,
  as: Domain | undefined,
  signal: AbortSignal,
  progress: (share: number) => void,
) {
  const path = stackFile(studio.root, hash);
  const file = await openFile(path, fileName);
  try {
    const image = await openImage(file);
    const { width, height, planes } = image;
    // Others may have taken the room since it was promised.
    await needRoom(studio.root, pyramidBytes(image), `Bringing ${fileName} in`);
    const domain = as ?? guessDomain(image);
    const divisor = given ?? (await divisorOf(studio.pool, image, path, signal));
    progress(0.1);
    const packed = (await sizeOf(path)) !== file.size;
    const source = await sourceOf(image, path, divisor, packed);
    const raster = await loadPixels(studio.pool, source, image, {
      signal,
      told: (share) => progress(0.1 + 0.3 * share),
    });
    const { zeros, ends } = await studio.pool.edges(
      { planes: raster.planes, width, height, blank: edgesBlank },
      signal,
    );
    const found = await Promise.all(
      raster.planes.map((plane) =>
        studio.pool.survey({ plane, width, height, stretched: domain === 'stretched' }, signal),
      ),
    );
    if (found.every(({ summary }) => summary.noData === 1)) {
      throw new UserError(
        'all-no-data',
        `${fileName} holds no data at all: every pixel is blank; check how it was saved.`,
      );
    }
    const id = pixelId({ hash, divisor, edgesBlank });
    progress(0.7);
    await writePyramid(studio.pool, studio.root, id, raster.planes, width, height, { signal });
    progress(0.95);
    await keepFigures(studio, { id, width, height, planes, domain }, found, ends);
    return {
      image,
      domain,
      row: {
        fileName,
        hash,
        bytes: String(await sizeOf(path)),
        width,
        height,
        planes,
        type: typeName(image),
        divisor,
        topDown: image.topDown,
        cards: [...image.cards],
        figures: { planes: found.map((f) => f.summary), stars: found.map((f) => countOf(f.stars)) },
        edgeZeros: zeros / (width * height),
        edgesBlank,
      },
    };
  } finally {
    await file.close();
  }
}

/** Brings a file that has arrived whole into a target: reads it, measures it, writes its pyramid, then adds its row or renews that of another. */
export const importJob = (studio: Studio): JobHandler => {
  const turns = new Turns();
  const work: JobHandler = async ({ job, signal, progress }) => {
    const payload = importPayload.parse(job.payload);
    const { hash, fileName, into } = payload;
    const table = studio.data.getRepository(StackEntity);
    const already = await table.findOneBy({ targetId: job.targetId, hash });
    if (already && into === undefined) return { stackId: already.id, again: true };
    const before = into === undefined ? null : await table.findOneBy({ id: into });
    if (into !== undefined && !before)
      throw new UserError(
        'no-stack',
        `The stack that ${fileName} was to replace is gone; bring the file in as a new one.`,
      );

    const as = before ? (before.domain === 'stretched' ? 'stretched' : 'linear') : undefined;
    const { image, domain, row } = await takeIn(studio, payload, as, signal, progress);
    const exposure = guessExposure(image.cards, fileName) ?? null;
    if (before) {
      // The same file taken in another way is no newer one: what it shows is mended, and nobody asks for what it was.
      const kept =
        before.hash === hash ? undefined : await keepBefore(studio, before, { signal, progress: () => undefined });
      // Name, filter and whether it is linear are what people know of the stack, whichever file it is; recipes go by its name.
      await table.update(before.id, {
        ...row,
        ...(before.hash !== hash && { exposure: exposure ?? before.exposure }),
      } as never);
      if (kept) {
        const { width, height, figures } = row;
        await noteRenewal(
          studio,
          before,
          factsOf({ width, height, figures, exposure: exposure ?? before.exposure }),
          kept,
        );
      }
      await dropUnused(studio, { ...before, edgesBlank: Boolean(before.edgesBlank) }, job.id);
      return { stackId: before.id };
    }
    const told = guessFilter(image.cards, fileName);
    const filter = told === undefined ? null : cut(told, LONGEST.filter);
    const stem = fileName.replace(/\.(fits?|fts|fz|gz|tiff?|png)(\.gz)?$/i, '');
    const id = randomUUID();
    const known = {
      id,
      targetId: job.targetId,
      domain,
      filter,
      wavelength: guessWavelength(filter ?? undefined) ?? null,
      exposure,
    };
    // One at a time: of two that come at once each must see the other's name.
    await studio.files.take(`names of ${job.targetId}`, async () => {
      const name = await freeName(studio, job.targetId, filter ?? stem);
      await table.insert({ ...row, ...known, name } as never);
    });
    return {
      stackId: id,
      ...(told !== undefined &&
        told !== filter && { notice: `The filter of ${fileName} has a very long name; it is kept as ${filter}.` }),
    };
  };
  // The same file dropped twice at once is one stack: the second finds what the first has made.
  return cleanly(studio, (run) =>
    turns.take(`${run.job.targetId} ${importPayload.parse(run.job.payload).hash}`, () => work(run)),
  );
};
