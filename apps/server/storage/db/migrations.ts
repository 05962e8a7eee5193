// Each can be run again after it was cut off anywhere: MariaDB keeps every change of a table at once, whatever stands around it.
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The tables of the first cloth. */
class FirstCloth1764000000000 implements MigrationInterface {
  readonly name = 'FirstCloth1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of [
      'CREATE TABLE IF NOT EXISTS targets (id varchar(36) PRIMARY KEY, name varchar(200) NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3))',
      `CREATE TABLE IF NOT EXISTS stacks (id varchar(36) PRIMARY KEY, targetId varchar(36) NOT NULL, name varchar(64) NOT NULL, fileName varchar(255) NOT NULL,
        hash char(64) NOT NULL, bytes bigint NOT NULL, width int NOT NULL, height int NOT NULL, planes int NOT NULL, type varchar(16) NOT NULL,
        divisor double NOT NULL, domain varchar(16) NOT NULL, filter varchar(64), exposure double, topDown boolean NOT NULL,
        cards json NOT NULL, figures json NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3),
        UNIQUE KEY stack_name (targetId, name), KEY stack_hash (hash),
        CONSTRAINT stack_target FOREIGN KEY (targetId) REFERENCES targets(id) ON DELETE CASCADE)`,
      `CREATE TABLE IF NOT EXISTS recipes (id varchar(36) PRIMARY KEY, targetId varchar(36) NOT NULL, name varchar(200) NOT NULL, revision int NOT NULL,
        createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3), updatedAt datetime(3) NOT NULL DEFAULT current_timestamp(3) ON UPDATE current_timestamp(3),
        CONSTRAINT recipe_target FOREIGN KEY (targetId) REFERENCES targets(id) ON DELETE CASCADE)`,
      `CREATE TABLE IF NOT EXISTS revisions (id varchar(36) PRIMARY KEY, recipeId varchar(36) NOT NULL, number int, parent int NOT NULL, conflict boolean NOT NULL,
        body json NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3), UNIQUE KEY revision_number (recipeId, number),
        CONSTRAINT revision_recipe FOREIGN KEY (recipeId) REFERENCES recipes(id) ON DELETE CASCADE)`,
      'CREATE TABLE IF NOT EXISTS measurements (`key` char(32) PRIMARY KEY, figure json NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3))',
      `CREATE TABLE IF NOT EXISTS jobs (id varchar(36) PRIMARY KEY, kind varchar(16) NOT NULL, targetId varchar(36) NOT NULL, state varchar(16) NOT NULL,
        title varchar(255) NOT NULL, payload json NOT NULL, result json, progress double NOT NULL, message text, attempts int NOT NULL,
        createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3), updatedAt datetime(3) NOT NULL DEFAULT current_timestamp(3) ON UPDATE current_timestamp(3),
        KEY job_state (state), CONSTRAINT job_target FOREIGN KEY (targetId) REFERENCES targets(id) ON DELETE CASCADE)`,
      `CREATE TABLE IF NOT EXISTS exports (id varchar(36) PRIMARY KEY, targetId varchar(36) NOT NULL, recipeId varchar(36) NOT NULL, revision int NOT NULL,
        fileName varchar(255) NOT NULL, format varchar(8) NOT NULL, depth int NOT NULL, bytes bigint NOT NULL, width int NOT NULL, height int NOT NULL,
        report json NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3),
        CONSTRAINT export_target FOREIGN KEY (targetId) REFERENCES targets(id) ON DELETE CASCADE)`,
    ]) {
      await runner.query(statement);
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['exports', 'jobs', 'measurements', 'revisions', 'recipes', 'stacks', 'targets'])
      await runner.query(`DROP TABLE ${table}`);
  }
}

/** What is known of a stack's filter and its edges. */
class EdgesAndWavelengths1764000000001 implements MigrationInterface {
  readonly name = 'EdgesAndWavelengths1764000000001';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE stacks ADD COLUMN IF NOT EXISTS wavelength double, ADD COLUMN IF NOT EXISTS edgeZeros double NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS edgesBlank boolean NOT NULL DEFAULT false',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE stacks DROP COLUMN wavelength, DROP COLUMN edgeZeros, DROP COLUMN edgesBlank');
  }
}

/** Measurements are kept as bytes. */
class FiguresAsBytes1764000000002 implements MigrationInterface {
  readonly name = 'FiguresAsBytes1764000000002';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE measurements MODIFY figure longblob NOT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE measurements MODIFY figure json NOT NULL');
  }
}

/** Palettes that people keep. */
class Palettes1764000000003 implements MigrationInterface {
  readonly name = 'Palettes1764000000003';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'CREATE TABLE IF NOT EXISTS palettes (id varchar(36) PRIMARY KEY, name varchar(200) NOT NULL, says varchar(500) NOT NULL, body json NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3), UNIQUE KEY palette_name (name))',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE palettes');
  }
}

/** Kept states of recipes. */
class Swatches1764000000004 implements MigrationInterface {
  readonly name = 'Swatches1764000000004';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'CREATE TABLE IF NOT EXISTS swatches (id varchar(36) PRIMARY KEY, targetId varchar(36) NOT NULL, recipeId varchar(36) NOT NULL, name varchar(200) NOT NULL, note varchar(2000) NOT NULL, body json NOT NULL, picture varchar(80) NULL, trouble varchar(500) NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3), KEY swatch_target (targetId, createdAt), CONSTRAINT swatch_target FOREIGN KEY (targetId) REFERENCES targets (id) ON DELETE CASCADE)',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE swatches');
  }
}

/** What was asked for of an export, and the sum of what came of it. */
class ExportRequests1764000000005 implements MigrationInterface {
  readonly name = 'ExportRequests1764000000005';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE exports ADD COLUMN IF NOT EXISTS request json NULL, ADD COLUMN IF NOT EXISTS sum varchar(64) NULL',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE exports DROP COLUMN request, DROP COLUMN sum');
  }
}

/** Pieces of weaving that people keep. */
class Patterns1764000000006 implements MigrationInterface {
  readonly name = 'Patterns1764000000006';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'CREATE TABLE IF NOT EXISTS patterns (id varchar(36) PRIMARY KEY, name varchar(200) NOT NULL, says varchar(500) NOT NULL, body json NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3), UNIQUE KEY pattern_name (name))',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE patterns');
  }
}

/** Stacks that newer files took the place of. */
class Renewals1764000000007 implements MigrationInterface {
  readonly name = 'Renewals1764000000007';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'CREATE TABLE IF NOT EXISTS renewals (id varchar(36) PRIMARY KEY, targetId varchar(36) NOT NULL, stackId varchar(36) NOT NULL, stackName varchar(200) NOT NULL, `before` json NOT NULL, `after` json NOT NULL, kept json NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3), KEY renewal_target (targetId, createdAt), CONSTRAINT renewal_stack FOREIGN KEY (stackId) REFERENCES stacks (id) ON DELETE CASCADE)',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE renewals');
  }
}

/** Names of earlier states. */
class NamedStates1764000000008 implements MigrationInterface {
  readonly name = 'NamedStates1764000000008';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE revisions ADD COLUMN IF NOT EXISTS label varchar(200) NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE revisions DROP COLUMN label');
  }
}

/** One file is one stack of a target. Where earlier versions let it be two, both stay. */
class OneFileOneStack1764000000009 implements MigrationInterface {
  readonly name = 'OneFileOneStack1764000000009';

  async up(runner: QueryRunner): Promise<void> {
    const twice: unknown[] = await runner.query(
      'SELECT 1 FROM stacks GROUP BY targetId, hash HAVING COUNT(*) > 1 LIMIT 1',
    );
    if (twice.length === 0)
      await runner.query('CREATE UNIQUE INDEX IF NOT EXISTS stack_file ON stacks (targetId, hash)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE stacks DROP KEY IF EXISTS stack_file');
  }
}

/** What is removed lies in a trash first. There it takes no name from others, and its file may be brought again. */
class Trash1764000000010 implements MigrationInterface {
  readonly name = 'Trash1764000000010';

  async up(runner: QueryRunner): Promise<void> {
    for (const table of ['targets', 'stacks', 'recipes', 'swatches', 'exports'])
      await runner.query(`ALTER TABLE ${table} ADD COLUMN IF NOT EXISTS deletedAt datetime(3) NULL`);
    await runner.query(
      'ALTER TABLE stacks ADD COLUMN IF NOT EXISTS live tinyint AS (IF(deletedAt IS NULL, 1, NULL)) PERSISTENT',
    );
    await runner.query('CREATE UNIQUE INDEX IF NOT EXISTS stack_live_name ON stacks (targetId, name, live)');
    await runner.query('ALTER TABLE stacks DROP KEY IF EXISTS stack_name');
    const twice: unknown[] = await runner.query(
      'SELECT 1 FROM stacks WHERE live = 1 GROUP BY targetId, hash HAVING COUNT(*) > 1 LIMIT 1',
    );
    if (twice.length === 0)
      await runner.query('CREATE UNIQUE INDEX IF NOT EXISTS stack_live_file ON stacks (targetId, hash, live)');
    await runner.query('ALTER TABLE stacks DROP KEY IF EXISTS stack_file');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DELETE FROM stacks WHERE deletedAt IS NOT NULL');
    await runner.query('CREATE UNIQUE INDEX IF NOT EXISTS stack_name ON stacks (targetId, name)');
    await runner.query(
      'ALTER TABLE stacks DROP KEY IF EXISTS stack_live_file, DROP KEY stack_live_name, DROP COLUMN live',
    );
    for (const table of ['targets', 'stacks', 'recipes', 'swatches', 'exports'])
      await runner.query(`ALTER TABLE ${table} DROP COLUMN deletedAt`);
  }
}

/** What was mended and put away, what is set for the whole server, and stacks whose file is gone or damaged. */
class Upkeep1764000000011 implements MigrationInterface {
  readonly name = 'Upkeep1764000000011';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'CREATE TABLE IF NOT EXISTS upkeep (id varchar(36) PRIMARY KEY, kind varchar(16) NOT NULL, says varchar(1000) NOT NULL, createdAt datetime(3) NOT NULL DEFAULT current_timestamp(3), KEY upkeep_time (createdAt))',
    );
    await runner.query('CREATE TABLE IF NOT EXISTS settings (name varchar(64) PRIMARY KEY, value json NOT NULL)');
    await runner.query('ALTER TABLE stacks ADD COLUMN IF NOT EXISTS lacking varchar(16) NULL');
    // Work on the whole server is of no target.
    await runner.query('ALTER TABLE jobs MODIFY targetId varchar(36) NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE upkeep');
    await runner.query('DROP TABLE settings');
    await runner.query('DELETE FROM jobs WHERE targetId IS NULL');
    await runner.query('ALTER TABLE jobs MODIFY targetId varchar(36) NOT NULL');
    await runner.query('ALTER TABLE stacks DROP COLUMN lacking');
  }
}

/** JSON is kept as text that MariaDB does not check: its own reader ends at 32 lists and objects within each other. */
class PlainJson1764000000012 implements MigrationInterface {
  readonly name = 'PlainJson1764000000012';

  private static readonly COLUMNS: readonly (readonly [string, string, boolean])[] = [
    ['stacks', 'cards', true],
    ['stacks', 'figures', true],
    ['revisions', 'body', true],
    ['jobs', 'payload', true],
    ['jobs', 'result', false],
    ['exports', 'report', true],
    ['exports', 'request', false],
    ['palettes', 'body', true],
    ['patterns', 'body', true],
    ['swatches', 'body', true],
    ['renewals', 'before', true],
    ['renewals', 'after', true],
    ['renewals', 'kept', true],
    ['settings', 'value', true],
  ];

  private async each(runner: QueryRunner, type: string): Promise<void> {
    for (const [table, column, needed] of PlainJson1764000000012.COLUMNS)
      await runner.query(`ALTER TABLE ${table} MODIFY \`${column}\` ${type} ${needed ? 'NOT NULL' : 'NULL'}`);
  }

  up(runner: QueryRunner): Promise<void> {
    return this.each(runner, 'longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin');
  }

  down(runner: QueryRunner): Promise<void> {
    return this.each(runner, 'json');
  }
}

export const MIGRATIONS = [
  FirstCloth1764000000000,
  EdgesAndWavelengths1764000000001,
  FiguresAsBytes1764000000002,
  Palettes1764000000003,
  Swatches1764000000004,
  ExportRequests1764000000005,
  Patterns1764000000006,
  Renewals1764000000007,
  NamedStates1764000000008,
  OneFileOneStack1764000000009,
  Trash1764000000010,
  Upkeep1764000000011,
  PlainJson1764000000012,
];
