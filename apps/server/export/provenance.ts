import type { Recipe, Source, Step } from '@owl-loom/recipe/schema';
import { stableJson } from '@owl-loom/base/content-hash';
import type { Rendered } from './rendered';

const number = (value: unknown): string =>
  typeof value === 'number'
    ? Number(value.toPrecision(6)).toString()
    : Array.isArray(value)
      ? `[${value.map(number).join(', ')}]`
      : String(value);

/** A source in a few words. */
function sourceText(source: Source): string {
  if ('stack' in source) return `stack ${source.stack}${source.plane ? `, ${source.plane} plane` : ''}`;
  if ('strand' in source) return `strand ${source.strand}`;
  if ('average' in source) return `average of ${source.average.join(', ')} by ${source.by ?? 'equal'}`;
  if ('mix' in source) {
    const columns = Object.entries(source.mix).map(
      ([name, weights]) =>
        `${name} = ${
          Object.entries(weights ?? {})
            .map(([id, w]) => `${number(w)} ${id}`)
            .join(' + ') || '0'
        }`,
    );
    const without = [...(source.off?.strands ?? []), ...(source.off?.columns ?? [])];
    const gains = Object.entries(source.gain ?? {}).map(([id, g]) => `${id} x ${number(g)}`);
    const asIs = source.asIs?.length ? `, ${source.asIs.join(', ')} as-is` : '';
    return `mix (${source.weights ?? 'as-is'}${asIs}) ${columns.join('; ')}${gains.length ? `; gain ${gains.join(', ')}` : ''}${without.length ? `; off ${without.join(', ')}` : ''}`;
  }
  if ('formula' in source) return `formula ${source.formula.replace(/\s+/g, ' ')}`;
  if ('colour' in source) return `colour ${source.colour}`;
  return 'layers' in source ? `${source.layers.length} layers` : 'the cloth below';
}

function stepText(step: Step, measured: unknown): string {
  const { do: kind, off, name, ...rest } = step;
  const given = Object.entries(rest).map(
    ([key, value]) => `${key} ${typeof value === 'object' ? stableJson(value) : number(value)}`,
  );
  const found =
    measured && typeof measured === 'object' && !Array.isArray(measured)
      ? Object.entries(measured).map(([key, value]) => `${key} ${number(value)}`)
      : [];
  return `${kind}${name ? ` (${name})` : ''}${given.length ? `: ${given.join(', ')}` : ''}${found.length ? `; measured ${found.join(', ')}` : ''}`;
}

/** How a picture was made, in lines that a person can read. */
export function provenanceLines(recipe: Recipe, rendered: Rendered): string[] {
  const { measured } = rendered.report;
  const steps = (list: readonly Step[] | undefined, path: string) =>
    (list ?? []).flatMap((step, i) => (step.off ? [] : [`  ${stepText(step, measured[`${path}[${i}]`])}`]));
  const used = new Set(rendered.paths.map((path) => path.replace(/^(strands\[\d+\]).*/, '$1')));
  return [
    `Woven by Owl Loom${recipe.name ? ` from the recipe ${recipe.name}` : ''}`,
    ...recipe.strands.flatMap((strand, i) =>
      used.has(`strands[${i}]`)
        ? [`Strand ${strand.id}: ${sourceText(strand.from)}`, ...steps(strand.steps, `strands[${i}].steps`)]
        : [],
    ),
    ...(recipe.cloth?.layers ?? []).flatMap((layer, i) =>
      layer.visible === false
        ? []
        : [
            `Layer ${layer.name ?? layer.id ?? i + 1}: ${sourceText(layer.of)}, ${layer.blend ?? 'normal'}, opacity ${number(layer.opacity ?? 1)}`,
            ...steps(layer.steps, `cloth.layers[${i}].steps`),
          ],
    ),
    ...(recipe.cloth?.steps?.length ? ['Finish:', ...steps(recipe.cloth.steps, 'cloth.steps')] : []),
  ];
}
