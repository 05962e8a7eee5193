import { Command, CommanderError } from 'commander';
import { UserError, userMessageOf } from '@owl-loom/base/errors';
import { addCommands } from './commands';

const program = new Command('loom')
  .description('Owl Loom weaves monochrome filter stacks of the night sky into colour pictures.')
  .configureOutput({
    outputError: (text, write) =>
      write(
        text.replace(
          /^error: (.)(.*?)\n?$/s,
          (_, first: string, rest: string) => `${first.toUpperCase()}${rest}; see ./loom --help.\n`,
        ),
      ),
  });

addCommands(program);

const trace = process.env.LOOM_TRACE === '1';

try {
  await program.exitOverride().parseAsync();
} catch (fault) {
  if (fault instanceof CommanderError) process.exitCode = fault.exitCode === 0 ? 0 : 1;
  else {
    // Who works by the command has the recipe's JSON at hand.
    const path = fault instanceof UserError && fault.where && fault.path ? `${fault.path}: ` : '';
    process.stderr.write(`${path}${userMessageOf(fault)}\n`);
    if (trace || !(fault instanceof UserError))
      process.stderr.write(trace && fault instanceof Error ? `${fault.stack}\n` : '');
    process.exitCode = 1;
  }
}
