import { toast } from 'sonner';
import { sendBytes } from '../store/send-bytes';

/** Sends an archive that was dropped; the server unpacks it as a job. */
export function sendArchive(file: File): void {
  const stop = new AbortController();
  const progressText = (share: number): string => `Uploading ${file.name}, ${Math.round(100 * share)} % …`;
  const id = toast.loading(progressText(0), { action: { label: 'Stop', onClick: () => stop.abort() } });
  sendBytes<'PUT /archives'>(`/api/archives?name=${encodeURIComponent(file.name)}`, file, {
    onShare: (share) => toast.loading(progressText(share), { id }),
    signal: stop.signal,
  }).then(
    () => toast(`Opening ${file.name} …`, { id }),
    (error: unknown) => toast.error(error instanceof Error ? error.message : String(error), { id }),
  );
}
