import type { PoolConnection } from 'mysql2';
import type { DataSource } from 'typeorm';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { MeasurementEntity, packed } from './db/entities';
import type { MeasurementStore } from '../render/run-options';

const KEEP = 'INSERT INTO measurements (`key`, figure) VALUES (?, ?) ON DUPLICATE KEY UPDATE figure = VALUES(figure)';

/** Measurements kept in the database, as a parameter of a prepared statement: a query's text would hold their bytes as digits, twice as long. */
export function measurementStore(data: DataSource): MeasurementStore {
  const table = data.getRepository(MeasurementEntity);
  return {
    get: async (key) => (await table.findOneBy({ key }))?.figure,
    set: async (key, figure: Measurement) => {
      const runner = data.createQueryRunner();
      try {
        const connection: PoolConnection = await runner.connect();
        await connection.promise().execute(KEEP, [key, packed.transformer.to(figure)]);
      } finally {
        await runner.release();
      }
    },
  };
}
