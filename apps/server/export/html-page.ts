import { formatDuration } from '@owl-loom/base/format-duration';
import { UserError } from '@owl-loom/base/errors';
import { totalExposures } from '@owl-loom/image/metadata/exposures';
import type { Recipe } from '@owl-loom/recipe/schema';
import { encodeJpeg } from '../codecs/jpeg';
import type { EmbeddedText } from '../codecs/embedded-text';
import { provenanceLines } from './provenance';
import type { Rendered } from './rendered';
import type { OpenStack } from '../pixels/open-stack';
import { recipeSvg } from './recipe-svg';
import { escapeHtml } from '../codecs/escape-html';
import { enableZoom } from './zoom';

const STYLE = `
:root { color-scheme: dark; }
* { box-sizing: border-box; }
body { margin: 0; background: #151515; color: #ececec; font: 15px/1.55 system-ui, sans-serif; }
#view { position: relative; height: 82vh; overflow: hidden; background: #0c0c0c; cursor: grab; touch-action: none; }
#view:focus-visible { outline: 2px solid #f0b061; outline-offset: -2px; }
#view:active { cursor: grabbing; }
#picture { position: absolute; left: 0; top: 0; transform-origin: 0 0; user-select: none; max-width: none; }
main { max-width: 64rem; margin: 0 auto; padding: 2rem 1.5rem 4rem; }
h1 { font-size: 1.7rem; margin: 0 0 .2rem; }
h2 { font-size: 1rem; color: #b9b9b9; margin: 2.4rem 0 .7rem; font-weight: 600; }
p { margin: .4rem 0; white-space: pre-line; }
.soft { color: #b9b9b9; }
table { border-collapse: collapse; }
td, th { padding: .3rem 1.6rem .3rem 0; text-align: left; border-bottom: 1px solid #313131; font-weight: 400; }
td:last-child { text-align: right; padding-right: 0; font-variant-numeric: tabular-nums; }
.drawing { overflow-x: auto; padding-bottom: .5rem; }
ol { list-style: none; margin: 0; padding: 0; font-size: .9rem; color: #b9b9b9; }
li { padding: .12rem 0; overflow-wrap: anywhere; }
li.inner { padding-left: 1.4rem; color: #8f8f8f; }
`;

/** Exposure through each filter, as a table; nothing where no stack tells. */
function exposures(rendered: Rendered, opened: ReadonlyMap<string, OpenStack>): string {
  const used = rendered.stacks.flatMap((name) => {
    const stack = opened.get(name);
    return stack ? [{ filter: stack.filter ?? name, exposure: stack.info.exposure }] : [];
  });
  const rows = totalExposures(used);
  if (rows.length === 0) return '';
  const all = rows.reduce((sum, { seconds }) => sum + seconds, 0);
  const lines = [...rows.map(({ filter, seconds }) => [filter, seconds] as const), ['together', all] as const];
  return `<h2>Exposure</h2><table>${lines.map(([name, seconds]) => `<tr><td>${escapeHtml(name)}</td><td>${formatDuration(seconds)}</td></tr>`).join('')}</table>`;
}

/**
 * One HTML file that shows a picture without anything else: to zoom, with its words, the exposure through each filter, and how it was woven, as
 * a drawing and in words. It carries its recipe as JSON.
 * @throws UserError for a linear picture, which screens cannot show
 */
export async function htmlPage(
  rendered: Rendered,
  recipe: Recipe,
  opened: ReadonlyMap<string, OpenStack>,
  { title, credits, caption, quality }: EmbeddedText & { readonly quality?: number },
): Promise<Buffer> {
  const { picture } = rendered;
  if (!picture.stretched)
    throw new UserError(
      'linear-page',
      'A web page needs a stretched picture, but this one is linear. Stretch it first.',
    );
  const jpeg = await encodeJpeg(picture, { title, credits, caption, quality });
  const name = title ?? recipe.name ?? 'Untitled';
  const filters = new Map([...opened].map(([stack, { filter }]) => [stack, filter]));
  const history = provenanceLines(recipe, rendered).slice(1);
  const paragraph = (text: string | undefined, like: string) => (text ? `<p${like}>${escapeHtml(text)}</p>` : '');
  return Buffer.from(`<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="generator" content="Owl Loom">
<title>${escapeHtml(name)}</title>
<style>${STYLE}</style>
</head>
<body>
<div id="view" tabindex="0" role="group" aria-label="The picture: wheel, + and − zoom, 0 shows all of it, 1 its own pixels">
<img id="picture" alt="${escapeHtml(caption ?? name)}" draggable="false" src="data:image/jpeg;base64,${jpeg.toString('base64')}">
</div>
<main>
<h1>${escapeHtml(name)}</h1>
${paragraph(credits, ' class="soft"')}
${paragraph(caption, '')}
${exposures(rendered, opened)}
<h2>How it was woven</h2>
<div class="drawing">${recipeSvg(recipe, filters)}</div>
<ol>${history.map((line) => `<li${line.startsWith('  ') ? ' class="inner"' : ''}>${escapeHtml(line.trim())}</li>`).join('')}</ol>
</main>
<script type="application/json" id="recipe">${JSON.stringify(recipe).replaceAll('<', '\\u003c')}</script>
<script>(${enableZoom.toString()})();</script>
</body>
</html>
`);
}
