import { toast } from 'sonner';
import { faultText } from './api';

/** Says the sentence of a request that was refused; nothing where it went well. */
export function showError({ error }: { readonly error?: unknown }): void {
  if (error) toast.error(faultText(error));
}
