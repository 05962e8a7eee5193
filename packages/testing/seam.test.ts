import ts from 'typescript';
import { expect, it } from 'vitest';
import { HOME } from './home';

/** Keys of replies, jobs, events and reports of steps that are renamed: in which file, from what to what, and who reads them. */
const RENAMED = [
  [
    'packages/api/jobs.ts',
    'archive: id, fileName: z.string()',
    'archive: id, called: z.string()',
    'src/health/archives.ts',
  ],
  ['packages/api/jobs.ts', 'room: z.object({ free:', 'room: z.object({ left:', 'src/store/events.ts'],
  [
    'packages/api/exports.ts',
    '  fileName: z.string(),\n  format',
    '  called: z.string(),\n  format',
    'src/exports/Exports.tsx',
  ],
  ['packages/api/maintenance.ts', 'guarded: z.boolean()', 'locked: z.boolean()', 'src/health/Health.tsx'],
  [
    'packages/recipe/steps/align.ts',
    '    matched: reportNumber',
    '    pairs: reportNumber',
    'src/loom/step-editors/align.tsx',
  ],
  [
    'packages/recipe/steps/starless.ts',
    'reports: starRemovalReport',
    'report: starRemovalReport',
    'src/loom/fields/StarRemovalFields.tsx',
  ],
  ['packages/api/swatches.ts', '  trouble: z.string()', '  reason: z.string()', 'src/swatches/SavedSwatches.tsx'],
] as const;

it('a key of a reply that is renamed stops the compiler where the page reads it', () => {
  const { config } = ts.readConfigFile(`${HOME}apps/web/tsconfig.json`, ts.sys.readFile);
  const { options } = ts.parseJsonConfigFileContent(config, ts.sys, `${HOME}apps/web`);
  const host = ts.createCompilerHost(options);
  const read = host.readFile;
  const replaced = new Set<string>();
  host.readFile = (path) =>
    RENAMED.filter(([file]) => path.endsWith(file)).reduce((text, [, from, to]) => {
      if (text?.includes(from)) replaced.add(from);
      return text?.replace(from, to);
    }, read(path));
  const readers = RENAMED.map(([, , , reader]) => `${HOME}apps/web/${reader}`);
  const program = ts.createProgram([...readers, `${HOME}node_modules/vite/client.d.ts`], options, host);
  const errors = readers.map((path) => program.getSemanticDiagnostics(program.getSourceFile(path)).length);
  expect(replaced.size).toBe(RENAMED.length);
  expect(errors.map((count, i) => [RENAMED[i][3], count > 0])).toEqual(RENAMED.map(([, , , reader]) => [reader, true]));
});
