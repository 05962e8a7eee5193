import { useForm } from 'react-hook-form';
import { faultText } from '../store/api';
import { useUnlockMutation } from '../store/maintenance-api';
import { Button } from '../ui/controls';
import { Owl } from '../ui/Logo';
import { TextField } from '../ui/TextField';

/** Asks for the password; nothing else is to be seen before it is given. */
export function Unlock() {
  const [unlock, { isLoading, error }] = useUnlockMutation();
  const { register, handleSubmit } = useForm({ defaultValues: { password: '' } });
  const submit = handleSubmit(async ({ password }) => {
    const result = await unlock(password);
    // Everything is asked for anew, by whoever was refused.
    if (!result.error) location.reload();
  });
  return (
    <main className="flex h-full items-center justify-center">
      <form onSubmit={(event) => void submit(event)} className="w-80 space-y-4">
        <div className="flex flex-col items-center gap-3 pb-2">
          <Owl size={60} />
          <h1 className="text-[18px] font-semibold">Owl Loom</h1>
        </div>
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          autoFocus
          {...register('password', { required: true })}
          trouble={error ? faultText(error) : undefined}
        />
        <Button look="lamp" type="submit" disabled={isLoading} className="w-full">
          Unlock
        </Button>
      </form>
    </main>
  );
}
