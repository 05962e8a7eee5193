import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { WorkerPool } from './worker-pool';

const SIZE = 5000;
const BYTES = 4 * SIZE;
let pool: WorkerPool;

beforeAll(() => {
  pool = new WorkerPool({ threads: 1, keep: 6 * BYTES });
});
afterAll(() => pool.close());

describe('memory that is made ready', () => {
  it('is as much as is wanted and as may lie idle, and no more when it is asked for again', async () => {
    const { spare } = pool.images;
    await pool.preallocate(SIZE, 2);
    expect(spare.idle).toBe(2 * BYTES);
    await pool.preallocate(SIZE, 2);
    expect(spare.idle).toBe(2 * BYTES);
    await pool.preallocate(SIZE, 40);
    expect(spare.idle).toBe(6 * BYTES);
    const { planes } = pool.images.take({ x: 0, y: 0, width: SIZE, height: 1 }, 3);
    expect(planes.every((plane) => plane.every((v) => v === 0))).toBe(true);
    expect(spare.idle).toBe(3 * BYTES);
  });

  it('goes to the planes of the target that was opened last', async () => {
    await pool.preallocate(2 * SIZE, 2);
    expect(pool.images.spare.fitting({ x: 0, y: 0, width: 2 * SIZE, height: 1 })).toBe(2);
    expect(pool.images.spare.idle).toBe(4 * BYTES);
  });

  it('is left alone where the machine has little, or a container is given little', async () => {
    const available = vi.spyOn(process, 'availableMemory').mockReturnValue(7 * BYTES);
    pool.images.spare.clear();
    await pool.preallocate(SIZE, 2);
    expect(pool.images.spare.idle).toBe(0);
    available.mockReturnValue(9 * BYTES);
    await pool.preallocate(SIZE, 2);
    expect(pool.images.spare.idle).toBe(2 * BYTES);
    available.mockRestore();
  });
});
