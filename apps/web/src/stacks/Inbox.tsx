import { many } from '@owl-loom/base/join-words';
import { FolderInput } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { faultText, useInboxQuery, useImportFromInboxMutation } from '../store/api';
import { showError } from '../store/show-error';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { bytes } from '../ui/numbers';

/** Files that lie in the inbox folder on the server's own disk: taken in without a way through the page. */
export function Inbox({ target }: { target: string }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button small look="quiet" onClick={() => setOpen(true)}>
        <FolderInput size={14} /> From the inbox
      </Button>
      {open && <InboxDialog target={target} onClose={() => setOpen(false)} />}
    </>
  );
}

function InboxDialog({ target, onClose }: { target: string; onClose: () => void }) {
  const { data, error } = useInboxQuery(undefined, { refetchOnMountOrArgChange: true });
  const [take, { isLoading }] = useImportFromInboxMutation();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const chosen = (data?.files ?? []).filter((file) => !left.has(file.name)).map((file) => file.name);
  const toggle = (name: string): void =>
    setLeft((before) => new Set(before.has(name) ? [...before].filter((other) => other !== name) : [...before, name]));
  const go = async (): Promise<void> => {
    const result = await take({ target, files: chosen });
    showError(result);
    for (const file of result.data ?? []) {
      if ('trouble' in file) toast.error(file.trouble, { duration: 10_000 });
      else if (file.again && file.mended) toast.success(`${file.name} was repaired.`);
      else if (file.again) toast.info(`${file.name} is already imported.`);
    }
    onClose();
  };
  return (
    <Dialog open onOpenChange={(next) => !next && onClose()} title="From the inbox">
      {error && (
        <p role="alert" className="text-ember">
          {faultText(error)}
        </p>
      )}
      {data && (
        <>
          <p className="mb-3 text-[13px] text-soft">
            Files put into <span className="figures break-all">{data.folder}</span> on this machine. The files are
            copied, not moved.
          </p>
          {data.files.length === 0 ? (
            <p className="text-hush">The inbox is empty.</p>
          ) : (
            <ul className="max-h-80 overflow-y-auto">
              {data.files.map((file) => (
                <li key={file.name}>
                  <label className="flex items-center gap-3 border-b border-edge py-1.5">
                    <input
                      type="checkbox"
                      className="accent-lamp"
                      checked={!left.has(file.name)}
                      onChange={() => toggle(file.name)}
                    />
                    <span className="grow truncate">{file.name}</span>
                    <span className="figures text-hush">{bytes(file.bytes)}</span>
                  </label>
                </li>
              ))}
            </ul>
          )}
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={onClose}>Cancel</Button>
            <Button look="lamp" disabled={chosen.length === 0 || isLoading} onClick={() => void go()}>
              {isLoading ? 'Importing …' : `Import ${many(chosen.length, 'file')}`}
            </Button>
          </div>
        </>
      )}
    </Dialog>
  );
}
