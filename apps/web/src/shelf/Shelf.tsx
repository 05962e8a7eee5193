import { many } from '@owl-loom/base/join-words';
import { compareFilters } from '@owl-loom/image/metadata/filter';
import { PackageOpen, Plus } from 'lucide-react';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { useForm } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { faultText, useAddTargetMutation, useTargetsQuery } from '../store/api';
import type { TargetCard } from '@owl-loom/api/targets';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { filterColour } from '@owl-loom/recipe/filter-colours';
import { Frame } from '../frame/AppFrame';
import { exposed } from '../ui/numbers';
import { Owl } from '../ui/Logo';
import { NAME, TextField } from '../ui/TextField';
import { Trouble } from '../ui/ErrorText';
import { sendArchive } from '../health/send-archive';
import { Cover } from './Cover';
import { TargetMenu } from './TargetMenu';

/** Exposure per filter, woven into one bar. */
function ExposureBar({ target }: { target: TargetCard }) {
  const stacks = [...target.stacks].sort((a, b) => compareFilters(a.filter, b.filter));
  const total = stacks.reduce((sum, stack) => sum + (stack.exposure ?? 0), 0);
  if (stacks.length === 0) return <p className="text-hush">No stacks yet</p>;
  return (
    <div>
      <div className="flex h-2.5 gap-px overflow-hidden rounded-[3px]">
        {stacks.map((stack) => (
          <span
            key={stack.id}
            title={`${stack.name}: ${exposed(stack.exposure)}`}
            style={{
              flexGrow: stack.exposure ?? total / stacks.length / 4 + 1,
              backgroundColor: filterColour(stack.filter),
              backgroundImage: 'repeating-linear-gradient(90deg, rgb(0 0 0 / 0.25) 0 1px, transparent 1px 4px)',
            }}
          />
        ))}
      </div>
      <p className="mt-1.5 flex justify-between text-[12.5px] text-hush">
        <span>{stacks.map((stack) => stack.filter ?? stack.name).join(' · ')}</span>
        <span className="figures">{exposed(total)}</span>
      </p>
    </div>
  );
}

function Card({ target }: { target: TargetCard }) {
  const [recipe] = target.recipes;
  const to = recipe ? `/targets/${target.id}/loom/${recipe.id}` : `/targets/${target.id}/stacks`;
  return (
    <li className="overflow-hidden rounded-xl border border-edge bg-board transition-colors hover:border-rim">
      <Link to={to} className="block aspect-3/2 bg-pit">
        <span className="sr-only">Open {target.name}</span>
        <Cover target={target} />
      </Link>
      <div className="space-y-2.5 p-4">
        <div className="flex items-baseline justify-between gap-3">
          <Link to={to} className="truncate text-[16px] font-semibold hover:text-lamp">
            {target.name}
          </Link>
          <span className="flex items-center gap-2">
            <Link
              to={`/targets/${target.id}/stacks`}
              className="text-[12.5px] whitespace-nowrap text-hush hover:text-text"
            >
              {many(target.stacks.length, 'stack')}
            </Link>
            <TargetMenu target={target} />
          </span>
        </div>
        <ExposureBar target={target} />
        {target.recipes.length > 0 && (
          <ul className="flex flex-wrap gap-1.5 pt-0.5">
            {target.recipes.map((row) => (
              <li key={row.id}>
                <Link
                  to={`/targets/${target.id}/loom/${row.id}`}
                  className="block rounded-md border border-edge px-2.5 py-1 text-[12.5px] text-soft hover:border-lamp hover:text-text"
                >
                  {row.name}
                </Link>
              </li>
            ))}
          </ul>
        )}
      </div>
    </li>
  );
}

function NewTarget({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const [add, { isLoading }] = useAddTargetMutation();
  const navigate = useNavigate();
  const { register, handleSubmit, formState } = useForm<{ name: string }>({ defaultValues: { name: '' } });
  const submit = handleSubmit(async ({ name }) => {
    const { data, error } = await add(name);
    if (error) toast.error(faultText(error));
    if (data) void navigate(`/targets/${data.id}/stacks`);
  });
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="New target">
      <form onSubmit={(event) => void submit(event)} className="space-y-3">
        <TextField
          label="Target name"
          {...register('name', NAME)}
          trouble={formState.errors.name && 'Give it a name.'}
        />
        <div className="flex justify-end gap-2">
          <Button onClick={() => onOpenChange(false)}>Cancel</Button>
          <Button look="lamp" type="submit" disabled={isLoading}>
            Create
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** All targets as cards; an empty shelf says what to do. */
export function Shelf() {
  const { data: targets, error } = useTargetsQuery();
  const [adding, setAdding] = useState(false);
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => files.forEach(sendArchive),
    noClick: true,
    noKeyboard: true,
  });
  if (error && !targets) return <Trouble message={faultText(error)} />;
  return (
    <div {...getRootProps({ className: 'flex h-full flex-col' })}>
      <Frame
        right={
          <>
            <Button look="quiet" small onClick={open} title="A target archive saved by Owl Loom">
              <PackageOpen size={14} /> Open archive …
            </Button>
            <Button look="lamp" small onClick={() => setAdding(true)}>
              <Plus size={14} /> New target
            </Button>
          </>
        }
      />
      <main className={`relative grow overflow-y-auto p-7 ${isDragActive ? 'bg-lamp/10' : ''}`}>
        <input {...getInputProps()} aria-label="A target archive" />
        {isDragActive && (
          <p className="pointer-events-none fixed inset-x-0 top-16 z-10 text-center text-[15px] text-lamp">
            Drop to open the archive
          </p>
        )}
        {targets?.length === 0 ? (
          <div className="mx-auto mt-24 max-w-lg text-center">
            <div className="flex justify-center">
              <Owl size={72} />
            </div>
            <h1 className="mt-5 text-[22px] font-semibold">The shelf is empty</h1>
            <p className="mt-2 text-[15px] text-soft">
              Create a target, then drop in one linear FITS file per filter. Filters are detected.
            </p>
            <Button look="lamp" className="mt-6" onClick={() => setAdding(true)}>
              <Plus size={15} /> Create a target
            </Button>
            <p className="mt-8 text-[13px] text-hush">
              No data at hand? Stop Owl Loom and start it with <code className="figures text-soft">./loom demo</code>,
              which adds simulated data.
            </p>
          </div>
        ) : (
          <ul className="mx-auto grid max-w-6xl grid-cols-[repeat(auto-fill,minmax(21rem,1fr))] gap-6">
            {targets?.map((target) => (
              <Card key={target.id} target={target} />
            ))}
          </ul>
        )}
      </main>
      <NewTarget open={adding} onOpenChange={setAdding} />
    </div>
  );
}
