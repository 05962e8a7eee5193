import { FolderInput } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { faultText, useInboxQuery, useTakeInboxMutation } from '../store/api';
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
  const [take, { isLoading }] = useTakeInboxMutation();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const chosen = (data?.files ?? []).filter((file) => !left.has(file.name)).map((file) => file.name);
  const toggle = (name: string): void =>
    setLeft((before) => new Set(before.has(name) ? [...before].filter((other) => other !== name) : [...before, name]));
  const go = async (): Promise<void> => {
    const result = await take({ target, files: chosen });
    showError(result);
    for (const { name, trouble, again, mended } of result.data ?? []) {
      if (trouble) toast.error(trouble, { duration: 10_000 });
      else if (mended) toast.success(`${name} is whole again.`);
      else if (again) toast.info(`${name} is here already.`);
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
            Files put into <span className="figures break-all">{data.folder}</span> on this machine. They stay there.
          </p>
          {data.files.length === 0 ? (
            <p className="text-hush">It is empty just now.</p>
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
            <Button onClick={onClose}>Not now</Button>
            <Button look="lamp" disabled={chosen.length === 0 || isLoading} onClick={() => void go()}>
              {isLoading ? 'Taking them in …' : `Take in ${chosen.length}`}
            </Button>
          </div>
        </>
      )}
    </Dialog>
  );
}
