import { Link } from 'react-router';
import { Owl } from './Logo';

/** A whole screen that cannot be shown: why, and the way out. */
export function Trouble({ message }: { message: string }) {
  return (
    <div role="alert" className="flex h-full flex-col items-center justify-center gap-4 text-center">
      <Owl size={56} />
      <p className="max-w-md text-[15px]">{message}</p>
      <Link to="/" className="text-lamp hover:underline">
        Back to the shelf
      </Link>
    </div>
  );
}
