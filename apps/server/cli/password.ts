import { once } from 'node:events';
import { mkdir } from 'node:fs/promises';
import { createInterface } from 'node:readline/promises';
import { Writable } from 'node:stream';
import { UserError } from '@owl-loom/base/errors';
import { dataDir } from '../system/home';
import { removePassword, setPassword } from '../system/password';
import { keepPrivate } from '../system/private-files';

/** A line that is typed without being shown. */
async function hidden(question: string): Promise<string> {
  process.stderr.write(question);
  const nowhere = new Writable({ write: (_piece, _encoding, done) => done() });
  const lines = createInterface({ input: process.stdin, output: nowhere, terminal: true });
  try {
    const answer = await Promise.race([
      lines.question(''),
      once(lines, 'SIGINT').then(() => {
        throw new UserError('stopped', 'Nothing was changed.');
      }),
    ]);
    return answer;
  } finally {
    lines.close();
    process.stderr.write('\n');
  }
}

/** The first line of what is piped in. */
async function piped(): Promise<string> {
  let text = '';
  for await (const piece of process.stdin) text += String(piece);
  return text.split(/\r?\n/)[0];
}

async function asked(): Promise<string> {
  if (!process.stdin.isTTY) return piped();
  const password = await hidden('Password: ');
  if (password !== (await hidden('Once more: ')))
    throw new UserError('not-alike', 'The two passwords differ. Nothing was changed; try again.');
  return password;
}

/** Sets or takes away the password; browsers that were let in by another one are asked again. */
export async function run({ remove = false }: { remove?: boolean }): Promise<void> {
  const root = dataDir();
  keepPrivate();
  await mkdir(root, { recursive: true, mode: 0o700 });
  if (remove) {
    await removePassword(root);
    process.stderr.write(
      'The password is gone: nobody is let in by it any more; from the next start on Owl Loom answers on this machine alone, without one.\n',
    );
    return;
  }
  await setPassword(root, await asked());
  process.stderr.write(
    'The password is set, and whoever was let in by another one is asked again. An Owl Loom that runs without one asks from its next start on; to be reached from elsewhere, start it with --listen ADDRESS.\n',
  );
}
