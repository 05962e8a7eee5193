import { DataSource } from 'typeorm';
import type { Database } from '../system/mariadb';
import { ENTITIES } from './entities';
import { MIGRATIONS } from './migrations';

/** Connects and brings the tables up to date. The schema is changed by migrations alone. */
export async function openData(database: Pick<Database, 'socketPath' | 'schema' | 'user'>): Promise<DataSource> {
  const source = new DataSource({
    type: 'mariadb',
    socketPath: database.socketPath,
    username: database.user,
    database: database.schema,
    entities: ENTITIES,
    migrations: MIGRATIONS,
    synchronize: false,
    charset: 'utf8mb4',
    timezone: 'Z',
    extra: { connectTimeout: 4000 },
  });
  await source.initialize();
  await source.runMigrations();
  return source;
}
