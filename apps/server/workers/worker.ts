import { readlinkSync } from 'node:fs';
import { constants, setPriority } from 'node:os';
import Piscina from 'piscina';
import { UserError } from '@owl-loom/base/errors';
import { translateSystemError } from '../system/system-errors';
import type { ManifestTask } from '../archive-file/read-manifest';
import type { RedactTask } from '../archive-file/redact';
import type { TaskResult } from './worker-pool';
import type { FileTask } from '../export/write-export';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Orientation } from '../worker-tasks/orient';
import type { SharedRaster } from '../pixels/shared-raster';
import type { SmallTask } from '../worker-tasks/encode-thumbnail';
import * as read from '../pixels/inspect-file';
import * as take from '../pixels/import-tasks';
import type { SketchTask } from '../worker-tasks/render-estimate';
import type { UnevenTask } from '../worker-tasks/has-gradient';
import type { BandTask, MeasureTask } from '../worker-tasks/render-band';

// A measurement cannot be interrupted, so the system is asked to let the page's own threads go first; there a priority is a thread's own.
if (process.platform === 'linux' && (Piscina.workerData as { gentle: boolean }).gentle) {
  setPriority(Number(readlinkSync('/proc/thread-self').split('/').pop()), constants.priority.PRIORITY_LOW);
}

async function answer<T>(work: () => T | Promise<T>): Promise<TaskResult<T>> {
  try {
    return { ok: await work() };
  } catch (error) {
    // On its way to another thread an error loses its code, by which a full disk is told.
    const known = error instanceof UserError ? error : translateSystemError(error);
    if (known) return { fault: { code: known.code, message: known.message, path: known.path } };
    throw error;
  }
}

/** Recipes and their measurements: loaded when the first is asked for, since much of Owl Loom stands behind them. */
const woven = () => import('../worker-tasks/render-band');

export const ready = () => answer(async () => void (await woven()));

/** Has the system clear the memory of a plane. */
export const touch = ({ plane }: { plane: Float32Array }) => answer(() => void plane.fill(0));

/** The tasks as the pool calls them, by name. */
export const band = (task: BandTask) => answer(async () => (await woven()).band(task));
export const measure = (task: MeasureTask) => answer(async () => (await woven()).measure(task));
export const sketch = (task: SketchTask) =>
  answer(async () => (await import('../worker-tasks/render-estimate')).renderFromEstimates(task));
export const uneven = (task: UnevenTask) =>
  answer(async () => (await import('../worker-tasks/has-gradient')).hasGradient(task));
export const survey = (task: Parameters<typeof take.measurePlane>[0]) => answer(() => take.measurePlane(task));
export const look = (task: Parameters<typeof read.inspectFile>[0]) => answer(() => read.inspectFile(task));
export const peek = (task: Parameters<typeof read.peek>[0]) => answer(() => read.peek(task));
export const divisor = (task: Parameters<typeof read.findDivisor>[0]) => answer(() => read.findDivisor(task));
export const whole = (task: Parameters<typeof read.loadFile>[0]) => answer(() => read.loadFile(task));
export const load = (task: Parameters<typeof read.loadRows>[0]) => answer(() => read.loadRows(task));
export const edges = (task: Parameters<typeof take.findBorders>[0]) => answer(() => take.findBorders(task));
export const levels = (task: Parameters<typeof take.writeLevels>[0]) => answer(() => take.writeLevels(task));
export const check = ({ dir }: { dir: string }) =>
  answer(async () => (await import('../pixels/tile-checksums')).checkPyramid(dir));
export const file = (task: FileTask) => answer(async () => (await import('../export/write-export')).writeExport(task));
export const small = (task: SmallTask) =>
  answer(async () => (await import('../worker-tasks/encode-thumbnail')).thumbnailOf(task));
export const oriented = ({
  raster,
  orientation,
  cut,
}: {
  raster: SharedRaster;
  orientation?: Orientation;
  cut: Rect;
}) => answer(async () => (await import('../worker-tasks/orient')).orient(raster, orientation, cut));
/** What an archive says that it holds. */
export const manifest = (task: ManifestTask) =>
  answer(async () => (await import('../archive-file/read-manifest')).readManifest(task));
/** A stack's file without who and where. */
export const redact = (task: RedactTask) =>
  answer(async () => (await import('../archive-file/redact')).redactFile(task));
export const hash = (task: Parameters<typeof take.hash>[0]) => answer(() => take.hash(task));
