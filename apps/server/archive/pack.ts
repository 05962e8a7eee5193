import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { ZipFile } from 'yazl';
import { UserError } from '@owl-loom/base/errors';
import { isPersonal } from '@owl-loom/image/redact/personal';
import {
  PaletteEntity,
  PatternEntity,
  RecipeEntity,
  RevisionEntity,
  type Stack,
  StackEntity,
  SwatchEntity,
  TargetEntity,
} from '../storage/db/entities';
import { checkOriginal } from '../storage/original-file';
import { stackFile } from '../services/stacks';
import type { Services } from '../services/services';
import { swatchesDir } from '../thumbnails/swatch';
import { VERSION } from '../system/version';
import { requireDiskSpace, formatBytes } from '../system/disk-space';
import {
  ARCHIVE_FORMAT,
  ARCHIVE_VERSIONS,
  type ArchivedFile,
  type ArchivedTemplate,
  type ArchivedRecipe,
  type ArchivedStack,
  type ArchivedSwatch,
  MANIFEST,
  MANIFEST_BYTES,
  MANIFEST_SUM,
  type Manifest,
} from '../archive-file/manifest';

/** What goes into the zip beside the manifest. */
type Content = { readonly bytes: Buffer } | { readonly path: string };

/** An archive as it is put together: its manifest, and what lies under each name. */
class ArchiveBuilder {
  readonly contents = new Map<string, Content>();

  /** Takes something in as JSON. */
  json(entry: string, value: unknown): ArchivedFile {
    return this.bytes(entry, Buffer.from(`${JSON.stringify(value, null, 2)}\n`));
  }

  bytes(entry: string, bytes: Buffer): ArchivedFile {
    this.contents.set(entry, { bytes });
    return { entry, bytes: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') };
  }

  /** Takes a file in that is known by its content. */
  file(entry: string, path: string, bytes: number, sha256: string): ArchivedFile {
    this.contents.set(entry, { path });
    return { entry, bytes, sha256 };
  }
}

const iso = (time: Date): string => time.toISOString();

/** How a target is packed. */
export interface PackOptions {
  /** Whether the files of the stacks go in. */
  readonly originals: boolean;
  /** Whether who took them and where stays out of their headers. */
  readonly impersonal: boolean;
}

/**
 * Takes the file of a stack in.
 * @param copies where copies without who and where are made
 * @throws UserError where the file is missing or damaged: an archive must be what it says
 */
async function originalOf(
  services: Services,
  packing: ArchiveBuilder,
  stack: Stack,
  copies: string | undefined,
): Promise<ArchivedFile> {
  const trouble = await checkOriginal(services, stack);
  if (trouble)
    throw new UserError(
      'file-lacking',
      `The original file of ${stack.name} is ${trouble}. Import ${stack.fileName} again first, or leave out the originals.`,
    );
  const path = stackFile(services.root, stack.hash);
  if (copies) {
    await requireDiskSpace(services.root, Number(stack.bytes), `A copy of ${stack.fileName}`);
    const to = join(copies, stack.hash);
    const redacted = await services.pool.redact({ path, name: stack.fileName, to });
    if (redacted) return packing.file(`originals/${redacted.sha256}.fits`, to, redacted.bytes, redacted.sha256);
  }
  return packing.file(`originals/${stack.hash}.fits`, path, (await stat(path)).size, stack.hash);
}

async function stacksOf(
  services: Services,
  packing: ArchiveBuilder,
  rows: Stack[],
  { originals, impersonal }: PackOptions,
  { copies, signal }: { copies: string; signal: AbortSignal },
): Promise<ArchivedStack[]> {
  const packed: ArchivedStack[] = [];
  for (const row of rows) {
    signal.throwIfAborted();
    const { targetId: _, deletedAt: _deleted, lacking: _lacking, ...rest } = row;
    const original = originals ? await originalOf(services, packing, row, impersonal ? copies : undefined) : null;
    const cards = impersonal ? row.cards.filter((card) => !isPersonal(card)) : row.cards;
    packed.push({
      ...rest,
      ...(original && original.sha256 !== row.hash && { hash: original.sha256, redactedFrom: row.hash }),
      bytes: Number(row.bytes),
      planes: row.planes === 3 ? 3 : 1,
      domain: row.domain === 'stretched' ? 'stretched' : 'linear',
      topDown: Boolean(row.topDown),
      edgesBlank: Boolean(row.edgesBlank),
      cards: cards.map((card) => ({ ...card, images: [...card.images] })),
      figures: { planes: [...row.figures.planes], stars: [...row.figures.stars] },
      createdAt: iso(row.createdAt),
      original,
    });
  }
  return packed;
}

async function recipesOf(services: Services, packing: ArchiveBuilder, targetId: string): Promise<ArchivedRecipe[]> {
  const rows = await services.data
    .getRepository(RecipeEntity)
    .find({ where: { targetId }, order: { createdAt: 'ASC' } });
  const table = services.data.getRepository(RevisionEntity);
  const packed: ArchivedRecipe[] = [];
  for (const { id, name, revision, createdAt } of rows) {
    const states = await table.find({ where: { recipeId: id }, order: { createdAt: 'ASC', number: 'ASC' } });
    packed.push({
      id,
      name,
      revision,
      createdAt: iso(createdAt),
      states: states.map((state) => ({
        id: state.id,
        number: state.number,
        parent: state.parent,
        conflict: Boolean(state.conflict),
        label: state.label,
        createdAt: iso(state.createdAt),
        recipe: packing.json(`recipes/${state.id}.json`, state.body),
      })),
    });
  }
  return packed;
}

async function swatchesOf(services: Services, packing: ArchiveBuilder, targetId: string): Promise<ArchivedSwatch[]> {
  const rows = await services.data
    .getRepository(SwatchEntity)
    .find({ where: { targetId }, order: { createdAt: 'ASC' } });
  const packed: ArchivedSwatch[] = [];
  for (const { id, recipeId, name, note, body, picture, createdAt } of rows) {
    // One whose picture is gone is woven again where it is brought back.
    const bytes = picture && (await readFile(join(swatchesDir(services.root), picture)).catch(() => null));
    packed.push({
      id,
      recipeId,
      name,
      note,
      createdAt: iso(createdAt),
      recipe: packing.json(`swatches/${id}.json`, body),
      picture: picture && bytes ? { ...packing.bytes(`swatches/${id}.jpg`, bytes), called: picture } : null,
    });
  }
  return packed;
}

async function keptOf(
  services: Services,
  packing: ArchiveBuilder,
  entity: typeof PaletteEntity | typeof PatternEntity,
  folder: string,
): Promise<ArchivedTemplate[]> {
  const rows = await services.data
    .getRepository<{ id: string; name: string; says: string; body: unknown; createdAt: Date }>(entity)
    .find({ order: { createdAt: 'ASC' } });
  return rows.map(({ id, name, says, body, createdAt }) => ({
    id,
    name,
    says,
    createdAt: iso(createdAt),
    body: packing.json(`${folder}/${id}.json`, body),
  }));
}

/** All of a target, ready to be written. */
async function packing(
  services: Services,
  targetId: string,
  options: PackOptions,
  way: { copies: string; signal: AbortSignal },
) {
  const target = await services.data.getRepository(TargetEntity).findOneByOrFail({ id: targetId });
  const stacks = await services.data
    .getRepository(StackEntity)
    .find({ where: { targetId }, order: { createdAt: 'ASC' } });
  const all = new ArchiveBuilder();
  const manifest: Manifest = {
    format: ARCHIVE_FORMAT,
    version: ARCHIVE_VERSIONS[options.impersonal ? 'redacted' : 'whole'],
    made: new Date().toISOString(),
    by: VERSION,
    target: { id: target.id, name: target.name, createdAt: iso(target.createdAt) },
    stacks: await stacksOf(services, all, stacks, options, way),
    recipes: await recipesOf(services, all, targetId),
    swatches: await swatchesOf(services, all, targetId),
    palettes: await keptOf(services, all, PaletteEntity, 'palettes'),
    patterns: await keptOf(services, all, PatternEntity, 'patterns'),
  };
  return { manifest, contents: all.contents };
}

/**
 * Writes a target into a zip, whole or not at all: the manifest first, originals as they are or without who and where.
 * @throws UserError where an original is missing or damaged, or the disk has no room
 */
export async function packTarget(
  services: Services,
  { targetId, to, ...options }: PackOptions & { targetId: string; to: string },
  way: { signal: AbortSignal; progress: (share: number) => void },
): Promise<{ name: string; bytes: number }> {
  const copies = join(services.root, 'incoming', randomUUID());
  await mkdir(copies, { recursive: true });
  try {
    const { signal } = way;
    return await writeZip(services, await packing(services, targetId, options, { copies, signal }), to, way);
  } finally {
    await rm(copies, { recursive: true, force: true });
  }
}

async function writeZip(
  services: Services,
  { manifest, contents }: Awaited<ReturnType<typeof packing>>,
  to: string,
  { signal, progress }: { signal: AbortSignal; progress: (share: number) => void },
): Promise<{ name: string; bytes: number }> {
  const head = Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`);
  if (head.length > MANIFEST_BYTES)
    throw new UserError(
      'archive-large',
      `The list of what ${manifest.target.name} holds has ${formatBytes(head.length)}, and an archive's has at most ${formatBytes(MANIFEST_BYTES)}; use ./loom backup, or divide the target.`,
    );
  let total = head.length;
  const zip = new ZipFile();
  zip.addBuffer(head, MANIFEST);
  zip.addBuffer(Buffer.from(`${createHash('sha256').update(head).digest('hex')}\n`), MANIFEST_SUM);
  for (const [entry, content] of contents) {
    if ('bytes' in content) {
      zip.addBuffer(content.bytes, entry, { compress: entry.endsWith('.json') });
      total += content.bytes.length;
    } else {
      zip.addFile(content.path, entry, { compress: false });
      total += (await stat(content.path)).size;
    }
  }
  await requireDiskSpace(services.root, total, `An archive of ${manifest.target.name}`);
  zip.end();
  const beside = `${to}.part`;
  try {
    let written = 0;
    zip.outputStream.on('data', (piece: Buffer) => {
      written += piece.length;
      progress(Math.min(1, written / total));
    });
    // A fault in a file that is read must end the writing too.
    zip.on('error', (error: Error) => (zip.outputStream as unknown as { destroy(why: Error): void }).destroy(error));
    await pipeline(zip.outputStream, createWriteStream(beside), { signal });
    await rename(beside, to);
  } catch (fault) {
    await rm(beside, { force: true });
    throw fault;
  }
  return { name: manifest.target.name, bytes: (await stat(to)).size };
}
