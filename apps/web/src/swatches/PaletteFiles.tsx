import { FileDown, FileUp } from 'lucide-react';
import { type ReactNode, useCallback } from 'react';
import { useDropzone } from 'react-dropzone';
import { toast } from 'sonner';
import { userMessageOf } from '@owl-loom/base/errors';
import { parsePalette } from '@owl-loom/recipe/palettes/file';
import { useImportPaletteMutation } from '../store/api';
import type { SheetEntry } from '@owl-loom/api/palettes';
import { showError } from '../store/show-error';
import { IconButton } from '../ui/controls';

/** The way by which a palette that someone kept leaves as a file; those that come with Owl Loom are everywhere. */
export function PaletteDown({ entry }: { entry: SheetEntry }) {
  if (entry.id === undefined) return null;
  return (
    <a
      href={`/api/palettes/${entry.id}/file`}
      download
      aria-label={`Save ${entry.name} as a file`}
      title="Save this palette as a file"
      className="inline-flex size-7 items-center justify-center rounded-md text-soft hover:bg-shelf hover:text-text"
    >
      <FileDown size={15} />
    </a>
  );
}

/** Takes palettes in that come as files: dropped anywhere on what lies within, or chosen. */
export function PaletteDrop({ children }: { children: (choose: ReactNode) => ReactNode }) {
  const [bring] = useImportPaletteMutation();
  const take = useCallback(
    async (files: readonly File[]): Promise<void> => {
      for (const file of files) {
        try {
          const palette = parsePalette(JSON.parse(await file.text()));
          const result = await bring(palette);
          showError(result);
          if (result.data) toast.success(`Palette ${result.data.name} imported.`);
        } catch (error) {
          const says =
            error instanceof SyntaxError ? 'it is not valid JSON. Choose a palette file.' : userMessageOf(error);
          toast.error(`${file.name} was not imported: ${says}`);
        }
      }
    },
    [bring],
  );
  const { getRootProps, getInputProps, open, isDragActive } = useDropzone({
    onDrop: (files) => void take(files),
    noClick: true,
    noKeyboard: true,
  });
  return (
    <div {...getRootProps({ className: 'relative flex min-w-0 grow' })}>
      <input {...getInputProps()} aria-label="A palette's file" />
      {isDragActive && (
        <p className="pointer-events-none absolute inset-0 z-20 grid place-items-center bg-pit/80 text-[15px] text-lamp">
          Drop to import
        </p>
      )}
      {children(
        <IconButton label="Import palette …" onClick={open}>
          <FileUp size={15} />
        </IconButton>,
      )}
    </div>
  );
}
