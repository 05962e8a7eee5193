import { X } from 'lucide-react';
import { Dialog as RDialog } from 'radix-ui';
import type { ReactNode } from 'react';

/**
 * What one types into comes first, or what a dialog says comes first: with the focus on the way out, Enter would close the dialog and make
 * nothing.
 */
function focusFirstField(event: Event): void {
  const dialog = event.currentTarget;
  const find = (what: string) => (dialog instanceof HTMLElement ? dialog.querySelector<HTMLElement>(what) : null);
  const field = find('[data-first]:not(:disabled)') ?? find('input, textarea, select');
  if (!field) return;
  event.preventDefault();
  field.focus();
  if (field instanceof HTMLInputElement) field.select();
}

export function Dialog({
  open,
  onOpenChange,
  title,
  children,
  wide = false,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <RDialog.Root open={open} onOpenChange={onOpenChange}>
      <RDialog.Portal>
        <RDialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <RDialog.Content
          aria-describedby={undefined}
          onOpenAutoFocus={focusFirstField}
          className={`fixed top-1/2 left-1/2 z-40 max-h-[86vh] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-xl border border-rim bg-board p-5 shadow-2xl ${wide ? 'w-[46rem]' : 'w-[26rem]'}`}
        >
          <div className="mb-4 flex items-center justify-between">
            <RDialog.Title className="text-[16px] font-semibold">{title}</RDialog.Title>
            {/* No hint here: it would open with the focus, and take the first Escape for itself. */}
            <RDialog.Close
              aria-label="Close"
              title="Close"
              className="inline-flex size-7 items-center justify-center rounded-md text-soft hover:bg-shelf hover:text-text"
            >
              <X size={16} />
            </RDialog.Close>
          </div>
          {children}
        </RDialog.Content>
      </RDialog.Portal>
    </RDialog.Root>
  );
}
