import { useState } from 'react';
import { toast } from 'sonner';
import { faultText, useAddExportMutation } from '../store/api';
import { useApp } from '../store/store';
import { Button, Choice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { Pick } from '../ui/Pick';

const FORMATS = {
  fits: { label: 'FITS', depths: [32], says: '32-bit numbers with the header and the history, for more work.' },
  tif: { label: 'TIFF', depths: [16, 32], says: 'For an image editor.' },
  png: { label: 'PNG', depths: [16, 8], says: 'To show, without loss.' },
  jpg: { label: 'JPEG', depths: [8], says: 'To show, small.' },
} as const;
type Format = keyof typeof FORMATS;

/** Asks for a file: what of the recipe, in which form. It is written at full size by the server. */
export function WriteFile({
  open,
  onOpenChange,
  target,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  target: string;
}) {
  const id = useApp((state) => state.draft.id);
  const recipe = useApp((state) => state.draft.recipe);
  const save = useApp((state) => state.draft.save);
  const [format, setFormat] = useState<Format>('tif');
  const [depth, setDepth] = useState<number>(16);
  const [node, setNode] = useState('the cloth');
  const [write, { isLoading }] = useAddExportMutation();
  const { depths, says } = FORMATS[format];
  const start = async (): Promise<void> => {
    if (!id) return;
    const { error } = await write({ target, recipeId: id, format, depth, ...(node !== 'the cloth' && { node }) });
    if (error) toast.error(faultText(error));
    else {
      toast('Writing at full size; it appears in Exports.');
      onOpenChange(false);
    }
  };
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Write a file">
      <div className="space-y-3">
        <Pick
          label="what"
          value={node}
          options={[
            { value: 'the cloth', label: 'the cloth' },
            ...(recipe?.strands ?? []).map((strand) => ({ value: strand.id, label: `strand ${strand.id}` })),
          ]}
          onChange={setNode}
        />
        <Choice
          label="form"
          value={format}
          options={(Object.keys(FORMATS) as Format[]).map((value) => ({ value, label: FORMATS[value].label }))}
          onChange={(value) => {
            setFormat(value);
            setDepth(FORMATS[value].depths[0]);
          }}
        />
        {depths.length > 1 && (
          <Choice
            label="bits a colour"
            value={String(depth)}
            options={depths.map((d) => ({ value: String(d), label: d === 32 ? '32, float' : String(d) }))}
            onChange={(value) => setDepth(Number(value))}
          />
        )}
        <p className="text-[12.5px] text-hush">{says}</p>
        <div className="flex justify-end gap-2 pt-1">
          <Button onClick={() => onOpenChange(false)}>Not now</Button>
          <Button look="lamp" disabled={isLoading || save !== 'kept'} onClick={() => void start()}>
            {save === 'kept' ? 'Write' : 'Keeping the last change …'}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
