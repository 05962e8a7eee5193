import { Upload as UploadIcon, X } from 'lucide-react';
import { useDropzone } from 'react-dropzone';
import { isActive } from '../store/active-jobs';
import { useAppSelector } from '../store/store';
import { Bar, Button, IconButton } from '../ui/controls';
import { useNewRecipe } from '../store/create-recipe';
import type { Upload } from './upload';
import type { Uploads } from './use-uploads';

/** A picture that was woven here may be wanted for its recipe, or for its pixels. */
function Woven({
  target,
  woven: { recipe, file },
  uploads,
  id,
}: {
  target: string;
  woven: NonNullable<Upload['woven']>;
  uploads: Uploads;
  id: string;
}) {
  const { weave, adding } = useNewRecipe(target);
  return (
    <span className="flex grow items-center gap-2.5">
      <span className="grow truncate text-soft">contains the recipe {recipe.name ?? 'that it was woven by'}</span>
      <Button small look="lamp" disabled={adding} onClick={() => void weave(recipe)}>
        Open the recipe
      </Button>
      {!/\.json$/i.test(file.name) && (
        <Button
          small
          onClick={() => {
            uploads.dismiss(id);
            uploads.add([file], true);
          }}
        >
          Import as stack
        </Button>
      )}
      <IconButton label={`Ignore ${file.name}`} onClick={() => uploads.dismiss(id)}>
        <X size={14} />
      </IconButton>
    </span>
  );
}

/** Takes files in: dropped or chosen, sent one after another, each with a bar and a way to stop it. */
export function DropZone({ target, uploads, compact }: { target: string; uploads: Uploads; compact: boolean }) {
  const jobs = useAppSelector((state) => state.live.jobs);
  const importing = Object.values(jobs).filter(
    (job) => job.kind === 'import' && job.targetId === target && isActive(job),
  );
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => uploads.add(files),
    noClick: true,
    noKeyboard: true,
  });
  const shown = uploads.list.filter((one) => one.state !== 'sent');
  return (
    // At the foot of the page the list grows upwards, so that nothing to press moves under the hand when a file is done.
    <div className={`flex gap-3 ${compact ? 'flex-col-reverse' : 'flex-col'}`}>
      <div
        {...getRootProps({ role: 'presentation' })}
        className={`relative rounded-xl border border-dashed text-center transition-colors ${isDragActive ? 'border-lamp bg-lamp/10' : 'border-rim hover:border-lamp'} ${compact ? 'px-5 py-3' : 'px-8 py-16'}`}
      >
        <input {...getInputProps()} />
        {/* The button reaches over all of the place, so that a press anywhere in it chooses files. */}
        <button
          type="button"
          onClick={open}
          className={`before:absolute before:inset-0 ${compact ? 'text-soft' : 'text-[16px]'}`}
        >
          <UploadIcon size={compact ? 14 : 22} className={compact ? 'mr-2 inline' : 'mx-auto mb-3 text-lamp'} />
          {isDragActive ? 'Drop to import' : 'Drop FITS, TIFF or PNG stacks here, or click to choose them'}
        </button>
        {!compact && (
          <p className="mt-1.5 text-hush">One file for each filter. Compressed FITS and .fits.gz work too.</p>
        )}
      </div>
      {(shown.length > 0 || importing.length > 0) && (
        <ul className="space-y-1.5">
          {shown.map((one) => (
            <li key={one.key} className="flex items-center gap-3">
              <span className="w-64 truncate">{one.name}</span>
              {one.woven ? (
                <Woven target={target} woven={one.woven} uploads={uploads} id={one.key} />
              ) : one.message ? (
                <span role="alert" className={one.state === 'failed' ? 'text-ember' : 'text-soft'}>
                  {one.message}
                </span>
              ) : (
                <Bar label={one.name} share={one.share} className="grow" />
              )}
              {(one.state === 'sending' || one.state === 'waiting') && (
                <IconButton label={`Stop ${one.name}`} onClick={() => uploads.stop(one.key)}>
                  <X size={14} />
                </IconButton>
              )}
              {one.state === 'failed' && (
                <IconButton label="Dismiss" onClick={() => uploads.dismiss(one.key)}>
                  <X size={14} />
                </IconButton>
              )}
            </li>
          ))}
          {importing.map((job) => (
            <li key={job.id} className="flex items-center gap-3">
              <span className="w-64 truncate">{job.title}</span>
              <Bar label={job.title} share={job.progress} className="grow" />
              <span className="w-20 text-[12.5px] text-hush">{job.state === 'queued' ? 'waiting' : 'measuring'}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
