import { formatDistanceToNow } from 'date-fns';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import { isActive } from '../store/active-jobs';
import { faultText } from '../store/api';
import { useBackUpMutation, useSaveScheduleMutation, useScheduleQuery } from '../store/maintenance-api';
import type { BackupSchedule } from '@owl-loom/api/maintenance';
import { Bar, Button } from '../ui/controls';
import { TextField } from '../ui/TextField';
import { useNewest } from './use-job';

const EVERY: readonly { value: BackupSchedule['every']; label: string }[] = [
  { value: 'never', label: 'Manual' },
  { value: 'day', label: 'Every day' },
  { value: 'week', label: 'Every week' },
];

function ScheduleForm({ schedule }: { schedule: BackupSchedule }) {
  const [save, { isLoading }] = useSaveScheduleMutation();
  const [backUp] = useBackUpMutation();
  const job = useNewest('backup');
  const { register, handleSubmit, watch, formState, reset, setError, clearErrors } = useForm({
    defaultValues: { dir: schedule.dir, every: schedule.every },
  });
  const submit = handleSubmit(async (asked) => {
    const { error } = await save(asked);
    if (error) setError('dir', { message: faultText(error) });
    else {
      reset(asked);
      toast('Backup schedule saved.');
    }
  });
  const now = async (): Promise<void> => {
    clearErrors('dir');
    const { error } = await backUp(dir);
    if (error) setError('dir', { message: faultText(error) });
  };
  const dir = watch('dir').trim();
  return (
    <form onSubmit={(event) => void submit(event)} className="space-y-3">
      <TextField
        label="Backup folder (on another disk of the server)"
        placeholder="/mnt/safe/owl-loom"
        trouble={formState.errors.dir?.message ?? (job?.state === 'failed' ? (job.message ?? undefined) : undefined)}
        {...register('dir')}
      />
      <fieldset className="flex flex-wrap gap-4">
        <legend className="sr-only">How often</legend>
        {EVERY.map(({ value, label }) => (
          <label key={value} className="flex items-center gap-1.5 text-soft">
            <input type="radio" value={value} {...register('every')} className="accent-lamp" /> {label}
          </label>
        ))}
      </fieldset>
      <div className="flex items-center gap-2">
        <Button type="submit" disabled={!formState.isDirty || isLoading}>
          Save
        </Button>
        <Button disabled={dir === '' || isActive(job)} onClick={() => void now()}>
          Back up now
        </Button>
        {isActive(job) && job && <Bar label={job.title} share={job.progress} className="w-40" />}
      </div>
      <p className="text-[12.5px] text-hush">
        {schedule.last
          ? `Last backup ${formatDistanceToNow(new Date(schedule.last), { addSuffix: true })}.`
          : 'No backup yet.'}{' '}
        Incremental; the last 14 database versions are kept.
      </p>
    </form>
  );
}

/** Where everything is backed up to, and how often. */
export function Backup() {
  const { data } = useScheduleQuery();
  return data ? <ScheduleForm schedule={data} key={data.last} /> : null;
}
