// Longer runs than the tests take, of faults and of hostile files; closes with one line that counts, as they do.
import { spawnSync } from 'node:child_process';

/** Rounds of each kind of hostile file: ten thousand in all. */
const HOSTILE = '530';

const runs = [
  [['apps/server/faults.test.ts'], {}],
  [
    ['apps/server/codecs/fuzz.test.ts', 'apps/server/archive/hostile.test.ts', '--testTimeout=3600000'],
    { LOOM_HOSTILE: HOSTILE },
  ],
];
const failed = runs.filter(([tests, env]) => {
  const how = { stdio: 'inherit', env: { ...env, ...process.env } };
  return spawnSync('npx', ['vitest', 'run', ...tests], how).status !== 0;
}).length;
console.log(`${runs.length - failed} passed, ${failed} failed`);
process.exitCode = failed > 0 ? 1 : 0;
