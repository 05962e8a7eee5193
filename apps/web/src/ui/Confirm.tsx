import { Button } from './controls';
import { Dialog } from './Dialog';

/** Asks once more before something goes for good. */
export function Confirm({
  open,
  title,
  says,
  action,
  onConfirm,
  onClose,
}: {
  open: boolean;
  title: string;
  says: string;
  action: string;
  onConfirm: () => void;
  onClose: () => void;
}) {
  return (
    <Dialog open={open} onOpenChange={(next) => !next && onClose()} title={title}>
      <p className="text-soft">{says}</p>
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="danger" onClick={onConfirm}>
          {action}
        </Button>
      </div>
    </Dialog>
  );
}
