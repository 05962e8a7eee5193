// Runs every check and every test, and closes with one line that counts them.
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const checks = [
  ['types', 'npx', ['tsc', '-b']],
  ['lint and form', 'npx', ['biome', 'ci', '--error-on-warnings', '.']],
  [
    'imports point one way',
    'npx',
    ['depcruise', '--config', '.dependency-cruiser.cjs', 'packages', 'apps', 'demo', 'e2e', 'bench'],
  ],
  [
    'no folders in a circle',
    'npx',
    ['depcruise', '--config', '.dependency-cruiser.folders.cjs', 'packages', 'apps', 'demo'],
  ],
  ['nothing unused', 'npx', ['knip']],
];

let passed = 0;
let failed = 0;
for (const [name, command, args] of checks) {
  const { status, stdout, stderr } = spawnSync(command, args, {
    encoding: 'utf8',
    env: { ...process.env, NO_COLOR: '1' },
  });
  console.log(`${status === 0 ? 'ok' : 'FAILED'}: ${name}`);
  if (status === 0) passed++;
  else {
    failed++;
    console.log(stdout, stderr);
  }
}

const report = join(tmpdir(), `owl-loom-tests-${process.pid}.json`);
spawnSync('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`], {
  stdio: ['ignore', 'inherit', 'inherit'],
});
try {
  const { numPassedTests, numFailedTests, testResults } = JSON.parse(readFileSync(report, 'utf8'));
  // A file that fails before its first test counts as one failure.
  const broken = testResults.filter(
    (file) => file.status === 'failed' && file.assertionResults.every((test) => test.status !== 'failed'),
  ).length;
  passed += numPassedTests;
  failed += numFailedTests + broken;
} catch (fault) {
  console.log(`The tests left no report: ${fault}`);
  failed++;
}
rmSync(report, { force: true });

console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed > 0 ? 1 : 0;
