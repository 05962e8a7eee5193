import { Copy, Trash2 } from 'lucide-react';
import type { Recipe, Strand } from '@owl-loom/recipe/schema';
import { type StepOwner, strandDependents } from '@owl-loom/recipe/walk';
import { valueAt } from '@owl-loom/recipe/paths';
import { Button } from '../../ui/controls';
import { count, exposed, figure } from '../../ui/numbers';
import { duplicateStrand, removeStrand, renameStrand, setValue } from '../../document/edit';
import { ownerName, sourceName } from '@owl-loom/recipe/names';
import { useSession } from '../../session/session';
import { noticesOf } from '../../session/notices';
import { useStacks } from '../../session/stacks-context';
import { AverageBench } from './AverageBench';
import { FormulaBench } from './FormulaBench';
import { Heading } from './Heading';
import { MixBench } from './MixBench';
import { Rows, Section } from '../fields/Rows';
import { Pick } from '../../ui/Select';
import { NameField } from './NameField';

/** The chosen strand: where it comes from, and what is known of it. */
export function StrandBench({ owner, recipe }: { owner: StepOwner; recipe: Recipe }) {
  const { scene } = useSession();
  const stacks = useStacks();
  const { path } = owner;
  const strand = valueAt(recipe, path) as Strand;
  const { from } = strand;
  const stack = 'stack' in from ? stacks.find((row) => row.name === from.stack) : undefined;
  const notices = noticesOf(scene).filter((n) => n.path === path || n.path.startsWith(`${path}.from`));
  const users = strandDependents(recipe, strand.id).map((reader) => ownerName(recipe, reader));
  return (
    <>
      <Heading
        own
        title={strand.id}
        says={'stack' in from ? 'Stack as imported, with its steps' : `Made from ${sourceName(from)}`}
        notices={notices.map((n) => n.message)}
      />
      <Section>
        <NameField id={strand.id} onKeep={(wanted) => renameStrand(strand.id, wanted)} />
      </Section>
      {'stack' in from && (
        <Section>
          <Pick
            label="stack"
            value={from.stack}
            options={stacks.map((row) => ({ value: row.name, label: row.name }))}
            onChange={(value) => setValue(`${path}.from.stack`, value)}
          />
          {stack && (
            <Rows
              rows={[
                [
                  'file',
                  <span key="f" className="block max-w-44 truncate" title={stack.fileName}>
                    {stack.fileName}
                  </span>,
                ],
                ['exposure', exposed(stack.exposure)],
                ['size', `${count(stack.width)} × ${count(stack.height)} px`],
                ['sky', stack.figures.planes.map((p) => figure(p.sky, 5)).join(' ')],
                ['noise', stack.figures.planes.map((p) => figure(p.noise, 5)).join(' ')],
                ['FWHM', stack.figures.stars.map((s) => count(s.count)).join(' ')],
                ['FWHM', `${stack.figures.stars.map((s) => figure(s.fwhm, 2)).join(' ')} px`],
              ]}
            />
          )}
        </Section>
      )}
      {'average' in from && <AverageBench path={`${path}.from`} source={from} recipe={recipe} self={strand.id} />}
      {'formula' in from && <FormulaBench path={`${path}.from`} text={from.formula} recipe={recipe} self={strand.id} />}
      {'mix' in from && <MixBench path={`${path}.from`} mix={from} recipe={recipe} self={strand.id} />}
      <Section>
        <Button small onClick={() => duplicateStrand(strand)}>
          <Copy size={13} /> Duplicate with its steps
        </Button>
        <Button small look="danger" disabled={users.length > 0} onClick={() => removeStrand(strand.id)}>
          <Trash2 size={13} /> Remove strand
        </Button>
        {users.length > 0 && (
          <p className="text-[12.5px] text-hush">Used by {users.join(', ')}: remove it there first.</p>
        )}
      </Section>
    </>
  );
}
