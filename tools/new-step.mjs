// Writes the skeleton of a step: spec, work, editor, and a line in each of their lists. `node tools/new-step.mjs NAME [FOLDER]`
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const [name = '', root = fileURLToPath(new URL('..', import.meta.url))] = process.argv.slice(2);

function refuse(says) {
  console.error(says);
  process.exit(1);
}

if (!/^[a-z][a-z0-9]*(-[a-z0-9]+)*$/.test(name))
  refuse('Name the step in lower case, with hyphens between words: ./loom new step star-glow');

const camel = name.replace(/-(\w)/g, (_, letter) => letter.toUpperCase());
const pascal = camel[0].toUpperCase() + camel.slice(1);
const files = {
  [`packages/recipe/steps/${name}.ts`]: `import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *${name}*; what it does to pixels is in the engine. */
export const ${camel} = defineStep({
  do: '${name}',
  name: '${name.replaceAll('-', ' ')}',
  summary: 'One sentence: what it does to the image.',
  hints: {
    for: 'What to look for when it is right.',
    tooMuch: 'What goes wrong when it is too much.',
  },
  group: 'show',
  searchTerms: [],
  params: z.strictObject({ amount: z.number().min(0).max(1).default(1) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({}),
});
`,
  [`packages/engine/steps/${name}.ts`]: `import { implementStep } from './step-implementation';
import { ${camel} as spec } from '@owl-loom/recipe/steps/${name}';

/** One sentence: the formula, and its source. */
export const ${camel}Step = implementStep(spec, {
  version: 1,
  build: ({ amount }, { input }) => ({
    kernel: {
      prepare:
        () =>
        ([{ planes }], out) =>
          out.planes.forEach((to, p) => {
            const from = planes[p];
            for (let i = 0; i < to.length; i++) to[i] = from[i] * amount;
          }),
    },
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
`,
  [`apps/web/src/loom/step-editors/${name}.tsx`]: `import type { ${camel} } from '@owl-loom/recipe/steps/${name}';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function ${pascal}Editor(props: PropsOf<typeof ${camel}>) {
  return (
    <Section>
      <ParamSlider of={props} name="amount" min={0} max={1} digits={3} />
    </Section>
  );
}
`,
};

const key = camel === name ? name : `'${name}'`;
/** In each list: the import, and the line that goes before what closes the list. */
const lists = {
  'packages/recipe/steps/index.ts': [`import { ${camel} } from './${name}';`, `    ${camel},\n`, '  ].map((kind)'],
  'packages/engine/steps/index.ts': [
    `import { ${camel}Step } from './${name}';`,
    `    ${camel}Step,\n`,
    '  ].map((kind)',
  ],
  'apps/web/src/loom/step-editors/index.ts': [
    `import { ${pascal}Editor } from './${name}';`,
    `  ${key}: ${pascal}Editor,\n`,
    '};\n\n/** The editor of each step kind',
  ],
  'packages/engine/steps/laws.test.ts': [undefined, `  ${key}: {},\n`, '};\n'],
};

const taken = Object.keys(files).find((path) => existsSync(join(root, path)));
if (taken) refuse(`There is a step of this name: ${taken}. Choose another name.`);

const changed = Object.entries(lists).map(([path, [line, entry, before]]) => {
  const text = readFileSync(join(root, path), 'utf8');
  // The examples of the laws are the first object that closes after its head.
  const from = path.endsWith('.test.ts') ? text.indexOf('const EXAMPLES') : 0;
  const at = text.indexOf(before, from);
  if (at < 0) refuse(`${path} has no place for another step: “${before.trim()}” is missing.`);
  const listed = text.slice(0, at) + entry + text.slice(at);
  if (!line) return [path, listed];
  const last = listed.lastIndexOf("from './");
  const end = listed.indexOf('\n', last) + 1;
  return [path, `${listed.slice(0, end)}${line}\n${listed.slice(end)}`];
});
for (const [path, text] of [...Object.entries(files), ...changed]) writeFileSync(join(root, path), text);

console.log(`Written:\n${Object.keys(files)
  .map((path) => `  ${path}`)
  .join('\n')}
Listed in:\n${Object.keys(lists)
  .map((path) => `  ${path}`)
  .join('\n')}
Next: fill in texts, parameters and kernel, give an example in laws.test.ts, then
  npm run schema && npx biome check --write . && npx vitest run packages/engine/steps apps/web/src/loom/step-editors`);
