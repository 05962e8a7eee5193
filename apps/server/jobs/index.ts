import type { JobTable } from '../queue/job-work';
import type { Services } from '../services/services';
import { sheetJob } from '../thumbnails/contact-sheet';
import { coverJob } from '../thumbnails/cover';
import { revisionThumbnailJob } from '../thumbnails/revision';
import { swatchJob } from '../thumbnails/swatch';
import { archiveJob, restoreJob } from './archive';
import { backupJob } from './backup';
import { importJob } from './import';
import { measureJob } from './measure';
import { proofJob } from './proof';
import { renderJob } from './render';
import { repairJob } from './repair';
import { verifyJob } from './verify';

/** Every kind of job with the lane that it waits in. */
export const jobTable = (services: Services): JobTable => ({
  mend: { lane: 'repair', run: repairJob(services) },
  measure: { lane: 'screen', run: measureJob(services) },
  import: { lane: 'work', run: importJob(services) },
  render: { lane: 'work', run: renderJob(services) },
  proof: { lane: 'work', run: proofJob(services) },
  sheet: { lane: 'work', run: sheetJob(services) },
  verify: { lane: 'work', run: verifyJob(services) },
  archive: { lane: 'work', run: archiveJob(services) },
  restore: { lane: 'work', run: restoreJob(services) },
  backup: { lane: 'work', run: backupJob(services) },
  past: { lane: 'viewed', run: revisionThumbnailJob(services) },
  cover: { lane: 'background', run: coverJob(services) },
  swatch: { lane: 'background', run: swatchJob(services) },
});
