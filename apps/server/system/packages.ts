import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { UserError } from '@owl-loom/base/errors';

const found = (program: string): boolean =>
  ['/usr/sbin', '/usr/bin', '/usr/local/bin', '/usr/local/sbin'].some((dir) => existsSync(`${dir}/${program}`));

const isRoot = (): boolean => process.getuid?.() === 0;

function apt(args: string[]): boolean {
  const command = isRoot() ? 'apt-get' : 'sudo';
  const rest = isRoot() ? args : ['-n', 'env', 'DEBIAN_FRONTEND=noninteractive', 'apt-get', ...args];
  const result = spawnSync(command, rest, {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
  return result.status === 0;
}

/**
 * Installs Debian packages whose programs are missing.
 * @param wanted program to look for → package that holds it
 * @throws UserError naming the packages where they cannot be installed from here
 */
export function ensurePrograms(wanted: Readonly<Record<string, string>>, log: (line: string) => void): void {
  const missing = [
    ...new Set(
      Object.entries(wanted)
        .filter(([program]) => !found(program))
        .map(([, name]) => name),
    ),
  ];
  if (missing.length === 0) return;
  const byHand = `Owl Loom needs the Debian package${missing.length > 1 ? 's' : ''} ${missing.join(' and ')}; install with: apt-get install ${missing.join(' ')}`;
  const maySudo = isRoot() || (found('sudo') && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0);
  if (!found('apt-get') || !maySudo) throw new UserError('missing-package', `${byHand} (as root).`);
  log(`Installing ${missing.join(', ')} …`);
  apt(['update', '-qq']);
  if (!apt(['install', '-y', '-qq', '--no-install-recommends', ...missing]))
    throw new UserError('missing-package', `${byHand}; apt-get's own words stand above.`);
}
