import { type Command, Option } from 'commander';

/** Collects a repeated option. */
const collect = (value: string, before: string[]): string[] => [...before, value];

/** A command whose code stands outside the server, as its own bundle beside this one. */
const beside = async (name: string) =>
  (await import(new URL(`./${name}.js`, import.meta.url).href)) as {
    readonly run: (...args: unknown[]) => Promise<void>;
  };

/** Every subcommand in words. What each does is loaded when it is called, so that none waits for what only others need. */
export function addCommands(program: Command): void {
  program
    .command('render')
    .description('render a recipe at full size, without server or database')
    .argument('<recipe>', 'recipe file (JSON)')
    .option('--stack <name=file>', 'a stack of the recipe and its file; once for each', collect, [])
    .requiredOption('--out <file>', 'file to write: .fits, .tif, .png or .jpg')
    .option('--depth <bits>', 'bits a sample: 8, 16 or 32, as the format allows')
    .option('--node <id>', 'render this strand or layer instead of the cloth')
    .option('--stretched <name>', 'this stack has been stretched already; once for each', collect, [])
    .option('--memory <mb>', 'the most memory that pixels may take, in MB')
    .option('--report <file>', 'write what was measured, warnings, times and memory as JSON')
    .action(async (recipe, options) => (await import('./render')).run(recipe, options));
  addMeasure(program);
  program
    .command('inspect')
    .description('what a file holds: size, type, header, sky, noise, stars; prints JSON')
    .argument('<file...>', 'FITS files')
    .action(async (files) => (await import('./inspect')).run(files));
  program
    .command('sky')
    .description('write the demo skies and their truth')
    .argument('<dir>', 'folder to write to')
    .action(async (dir) => (await import('./demo-sky')).run(dir));
  program
    .command('shots')
    .description('take the pictures in docs/screenshots from the demo')
    .action(async () => (await beside('shots')).run());
  program
    .command('bench')
    .description('measure speed, memory and truth: JSON on stdout, tables on stderr')
    .argument('[part...]', 'kernels, renders, night, page or fields; all of them where none is named')
    .action(async (parts) => (await beside('bench')).run(parts));
  program
    .command('password')
    .description('set the password without which Owl Loom answers on this machine alone; typed, or read from stdin')
    .option('--remove', 'take it away')
    .action(async (options) => (await import('./password')).run(options));
  program
    .command('archive')
    .description('pack a target into one file, with its recipes, their states and its swatches')
    .argument('<target>', 'its name, or its id')
    .option('--out <file>', 'the file to write; beside you, by the name of the target, where none is given')
    .option('--without-originals', 'leave the files of the stacks out')
    .option('--impersonal', 'leave observer, place and paths on your disk out of the headers of the files')
    .action(async (target, options) => (await import('./archive')).pack(target, options));
  program
    .command('restore')
    .description('bring a target back from such a file, or everything from a backup into an empty data folder')
    .argument('<path>', 'an archive, or a folder that ./loom backup has written')
    .action(async (path) => (await import('./archive')).unpack(path));
  program
    .command('backup')
    .description(
      'keep everything in a folder, also while Owl Loom runs: the database, and files that are not there yet',
    )
    .argument('<dir>', 'a folder of its own, on another disk')
    .option('--allow', 'only let the page Health send backups to that folder, or to one in it')
    .action(async (dir, options) => (await import('./backup')).run(dir, options));
  program
    .command('verify')
    .description('look through everything that is kept, and say what is damaged; prints JSON')
    .option('--repair', 'put right what can be put right')
    .action(async (options) => (await import('./verify')).run(options));
  for (const demo of [true, false]) {
    program
      .command(demo ? 'demo' : 'start')
      .description(demo ? 'start Owl Loom with the demo skies' : 'start Owl Loom with your own data')
      .option('--port <number>', 'port to listen on', '4860')
      .option('--listen <address>', 'address to listen on; beyond this machine only behind a password', '127.0.0.1')
      .option(
        '--name <host>',
        'a name by which it is reached besides, with its port where that is not the usual one; once for each',
        collect,
        [],
      )
      .option('--proxy <address>', 'a proxy whose word counts on where people come from; once for each', collect, [])
      .option('--tls-cert <file>', 'certificate in PEM, to be reached by https')
      .option('--tls-key <file>', 'its key')
      .action(async (options) => (await import('./start')).run(demo, options));
  }
  program
    .command('dev')
    .description('page and server that renew themselves on a change, on the data of start; for working on Owl Loom')
    .action(async () => (await import('./dev')).run());
  program
    .command('test')
    .description("run every test, the browser's included")
    .option(
      '--long',
      'instead, a few hundred random faults under a server at work, and ten thousand hostile files; an hour at most',
    )
    .action(async (options) => (await import('./test')).run(options));
}

function addMeasure(program: Command): void {
  const measure = program.command('measure').description('measure two files against each other; prints JSON');
  measure
    .command('linear-fit')
    .description('the line a + b x that brings the target to the reference')
    .requiredOption('--reference <file>', 'the image to match')
    .requiredOption('--target <file>', 'the image to be matched')
    .option('--method <name>', 'auto, pixels or levels', 'auto')
    .action(async (options) => (await import('./measure')).fit(options));
  measure
    .command('continuum')
    .description('how much of a broadband image a line image holds')
    .requiredOption('--line <file>', 'the image through a line filter')
    .requiredOption('--broad <file>', 'the broadband image')
    .option('--method <name>', 'stars or skewness', 'stars')
    .action(async (options) => (await import('./measure')).continuum(options));
  measure
    .command('align')
    .description('the map from pixels of the target to pixels of the reference')
    .requiredOption('--reference <file>', 'the image to lie on')
    .requiredOption('--target <file>', 'the image to be aligned')
    .option('--model <name>', 'shift, similarity or affine', 'similarity')
    .addOption(
      new Option('--by <name>', "stars, the structures that both show, or the files' own WCS")
        .choices(['stars', 'structures', 'wcs'])
        .default('stars'),
    )
    .action(async (options) => (await import('./measure')).align(options));
}
