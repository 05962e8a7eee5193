import { useState } from 'react';
import { toast } from 'sonner';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { maskOwners, strandOwners } from '@owl-loom/recipe/walk';
import { faultText, useAddExportMutation } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { Button } from '../../ui/controls';
import { Dialog } from '../../ui/Dialog';
import { bytes, count } from '../../ui/numbers';
import { useSession } from '../../session/session';
import { byForm, bytesOf, type FileRequest, filesOf, type Said, scaled } from './files';
import { FormFields } from './FormFields';
import { type Middle, partOf, sizesOf } from './part';
import { PartFields } from './PartFields';
import { FORMATS, remember, rememberedSettings, type Settings } from './settings';
import { useCompressedSize } from './use-about';
import { EmptyCorners } from './EmptyCorners';
import { type Finished, useFinishedPicture } from './use-finished';

/** Asks for files: what of the recipe, in which forms. They are written at full size by the server. */
export function WriteFile({
  open,
  onOpenChange,
  target,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  target: string;
}) {
  return (
    <Dialog wide open={open} onOpenChange={onOpenChange} title="Export">
      {open && <Form target={target} close={() => onOpenChange(false)} />}
    </Dialog>
  );
}

function Form({ target, close }: { target: string; close: () => void }) {
  const finished = useFinishedPicture();
  if (!finished) return <p className="text-soft">No finished picture yet: fix the errors shown in the Loom first.</p>;
  return <Fields target={target} finished={finished} close={close} />;
}

function Fields({ target, finished, close }: { target: string; finished: Finished; close: () => void }) {
  const { id, recipe, save } = useAppSelector((state) => state.draft);
  const { scene } = useSession();
  const [settings, setSettings] = useState(() => rememberedSettings(target));
  const [middle, setMiddle] = useState<Middle>({ x: 0.5, y: 0.5 });
  const [frame, setFrame] = useState<Rect>({ x: 0, y: 0, ...finished.size });
  const [said, setSaid] = useState<Said>({ title: recipe?.name ?? '', caption: '' });
  const [beside, setBeside] = useState<string[]>([]);
  const [write, { isLoading }] = useAddExportMutation();
  const put = (change: Partial<Settings>): void => setSettings((before) => ({ ...before, ...change }));

  const part = partOf(settings, finished.size, middle, frame);
  const whole = part ?? finished.size;
  const sizes = sizesOf(settings, whole);
  const [written] = sizes;
  const about = useCompressedSize(finished.extent, written, written.width / whole.width, settings.quality);
  const owners = recipe ? [...strandOwners(recipe), ...maskOwners(recipe)] : [];
  const besides = owners.map(({ kind, id = '', path }) => ({
    value: path,
    label: kind === 'mask' ? `mask ${id}` : id,
  }));
  const files = filesOf(
    settings,
    said,
    { crop: part, widths: sizes.map(({ asked }) => asked), stretched: finished.stretched },
    owners
      .filter(({ path }) => beside.includes(path))
      // Strands are asked for by their ids, masks by their places.
      .map(({ kind, id, path }) => ({
        node: kind === 'mask' || id === undefined ? path : id,
        linear: scene?.paths[path]?.domain === 'linear',
      })),
  );

  /** How large a file of the picture becomes; and how wide, where there are several sizes. */
  const sizeSaid = ({ format, width }: FileRequest): string => {
    const own = sizes.find(({ asked }) => asked === width) ?? written;
    const size = bytesOf(format, settings, own, finished.planes, scaled(about, own, written));
    const wide = sizes.length > 1 ? [`${count(own.width)} wide`] : [];
    return [...wide, ...(size ? [`${size.about ? 'about ' : ''}${bytes(size.bytes)}`] : [])].join(' ');
  };

  const start = async (): Promise<void> => {
    if (!id) return;
    remember(target, settings);
    for (const file of files) {
      const { error } = await write({ target, recipeId: id, ...file });
      if (error) {
        toast.error(faultText(error));
        return;
      }
    }
    toast(
      files.length === 1
        ? 'Exporting; the file will appear in Exports.'
        : `Exporting ${files.length} files; they will appear in Exports.`,
    );
    close();
  };

  return (
    <div className="space-y-4">
      <EmptyCorners rect={finished.extent} orient={finished.orient} frame={finished.frame} />
      <div className="grid grid-cols-[22rem_1fr] gap-5">
        <PartFields
          finished={finished}
          settings={settings}
          put={put}
          part={part}
          setMiddle={setMiddle}
          setFrame={setFrame}
          sizes={sizes}
        />
        <FormFields
          settings={settings}
          put={put}
          stretched={finished.stretched}
          said={said}
          setSaid={setSaid}
          beside={beside}
          besides={besides}
          setBeside={setBeside}
        />
      </div>
      <div className="sticky -bottom-5 -mx-5 -mb-5 flex items-end justify-between gap-4 border-t border-edge bg-board px-5 py-3.5">
        <ul className="figures max-h-24 overflow-y-auto text-soft" aria-label="Files">
          {byForm(files).map(([first, ...more]) => {
            const { format, depth, node } = first;
            return (
              <li key={`${format} ${node ?? ''}`}>
                {FORMATS[format].label}, {depth} bit{node ? `, ${node}` : ''}
                {node === undefined && `: ${[first, ...more].map(sizeSaid).filter(Boolean).join(', ')}`}
              </li>
            );
          })}
          {files.length === 0 && <li className="font-sans text-hush">Choose a file format.</li>}
        </ul>
        <div className="flex gap-2">
          <Button onClick={close}>Cancel</Button>
          <Button
            look="lamp"
            data-first
            disabled={isLoading || save !== 'kept' || files.length === 0}
            onClick={() => void start()}
          >
            {save === 'kept' ? 'Export' : 'Saving the last change …'}
          </Button>
        </div>
      </div>
    </div>
  );
}
