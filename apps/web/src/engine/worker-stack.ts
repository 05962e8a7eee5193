import type { StackInfo } from '@owl-loom/engine/graph';
import type { WorkerStack } from '../../worker/protocol';
import type { StackRow } from '@owl-loom/api/stacks';

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
