import { strandOwners } from '@owl-loom/recipe/walk';
import { useMemo } from 'react';
import type { Recipe } from '@owl-loom/recipe/schema';
import { Button } from '../../ui/controls';
import { Menu } from '../../ui/Menu';
import { setValue, endGesture } from '../../document/edit';
import { FormulaEditor } from '../formula/FormulaEditor';
import { FUNCTION_LIST } from '../formula/language';
import { formulaStarts } from '../formula/formula-presets';
import { useSession } from '../../session/session';
import { Section } from '../fields/Rows';

/** A strand by formula: the text, shapes to begin with, and the functions at hand. */
export function FormulaBench({
  path,
  text,
  recipe,
  self,
}: {
  path: string;
  text: string;
  recipe: Recipe;
  /** Id of the strand that it is, which cannot be in it. */
  self: string | undefined;
}) {
  const { scene } = useSession();
  const ids = recipe.strands.map((strand) => strand.id).filter((id) => id !== self);
  const known = useMemo(
    () =>
      new Map(
        strandOwners(recipe).flatMap(({ id = '', path }): [string, 1 | 3][] =>
          id === self ? [] : [[id, scene?.paths[path]?.planes ?? 1]],
        ),
      ),
    [recipe, scene, self],
  );
  return (
    <>
      <Section>
        <FormulaEditor
          text={text}
          known={known}
          onChange={(next) => setValue(`${path}.formula`, next, 'formula')}
          onLeave={endGesture}
        />
        <Menu
          items={formulaStarts(ids).map(({ name, says, text }) => ({
            label: name,
            says,
            onSelect: () => setValue(`${path}.formula`, text),
          }))}
        >
          <Button small>Templates …</Button>
        </Menu>
        <p className="text-[12.5px] text-hush">
          A mono formula ends in a value; a colour one sets <b>red</b>, <b>green</b> and <b>blue</b>. Variables:{' '}
          <span className="figures">x = …</span>
        </p>
      </Section>
      <Section title="functions">
        <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 text-[12.5px]">
          {FUNCTION_LIST.map(({ name, form, says }) => (
            <div key={name} className="contents">
              <dt className="figures whitespace-nowrap text-text">{form}</dt>
              <dd className="text-hush">{says}</dd>
            </div>
          ))}
        </dl>
      </Section>
    </>
  );
}
