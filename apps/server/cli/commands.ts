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
  addRender(program);
  addMeasure(program);
  addInspect(program);
  addDevelopment(program);
  addMaintenance(program);
  addStart(program);
  addChecks(program);
}

function addRender(program: Command): void {
  program
    .command('render')
    .description('render a recipe at full size, without server or database')
    .argument('<recipe>', 'recipe file (JSON)')
    .option('--stack <name=file>', 'a stack of the recipe and its file (repeatable)', collect, [])
    .requiredOption('--out <file>', 'file to write: .fits, .tif, .png or .jpg')
    .option('--depth <bits>', 'bits a sample: 8, 16 or 32, as the format allows')
    .option('--node <id>', 'render this strand or layer instead of the cloth')
    .option('--stretched <name>', 'this stack is already stretched (repeatable)', collect, [])
    .option('--memory <mb>', 'memory limit for pixels, in MB')
    .option('--report <file>', 'write what was measured, warnings, times and memory as JSON')
    .action(async (recipe, options) => (await import('./render')).run(recipe, options));
}

function addInspect(program: Command): void {
  program
    .command('inspect')
    .description('describe a file: size, type, header, sky, noise, stars; prints JSON')
    .argument('<file...>', 'FITS files')
    .action(async (files) => (await import('./inspect')).run(files));
  program
    .command('sky')
    .description('write the demo skies and their truth')
    .argument('<dir>', 'folder to write to')
    .action(async (dir) => (await import('./demo-sky')).run(dir));
}

/** What those who work on Owl Loom need beside tests. */
function addDevelopment(program: Command): void {
  program
    .command('new')
    .description('write the skeleton of a step, for working on Owl Loom')
    .argument('<what>', 'step')
    .argument('<name>', 'in lower case, with hyphens between words')
    .action(async (what, name) => (await import('./new-part')).run(what, name));
  program
    .command('shots')
    .description('take the pictures in docs/screenshots from the demo')
    .action(async () => (await beside('shots')).run());
  program
    .command('bench')
    .description('measure speed, memory and truth: JSON on stdout, tables on stderr')
    .argument('[part...]', 'kernels, renders, night, page or fields; all of them where none is named')
    .action(async (parts) => (await beside('bench')).run(parts));
}

/** What keeps the data: who may see it, and copies of it. */
function addMaintenance(program: Command): void {
  program
    .command('password')
    .description('set the password, typed or read from stdin; without one Owl Loom listens on this machine alone')
    .option('--remove', 'remove the password')
    .action(async (options) => (await import('./password')).run(options));
  program
    .command('archive')
    .description('save a target as one file, with its recipes, their history and its swatches')
    .argument('<target>', 'its name, or its id')
    .option('--out <file>', 'file to write; default: target name in the current folder')
    .option('--without-originals', 'leave out the files of the stacks')
    .option('--impersonal', 'leave observer, place and paths on your disk out of the file headers')
    .action(async (target, options) => (await import('./archive')).pack(target, options));
  program
    .command('restore')
    .description('restore a target from an archive, or everything from a backup into an empty data folder')
    .argument('<path>', 'an archive, or a folder that ./loom backup has written')
    .action(async (path) => (await import('./archive')).unpack(path));
  program
    .command('backup')
    .description('back up the database and all new files to a folder, also while Owl Loom runs')
    .argument('<dir>', 'a folder of its own, on another disk')
    .option('--allow', 'only allow the page Health to back up to that folder, or to one in it')
    .action(async (dir, options) => (await import('./backup')).run(dir, options));
  program
    .command('verify')
    .description('check all stored data, report damage; prints JSON')
    .option('--repair', 'repair what can be repaired')
    .action(async (options) => (await import('./verify')).run(options));
}

function addStart(program: Command): void {
  for (const demo of [true, false]) {
    program
      .command(demo ? 'demo' : 'start')
      .description(demo ? 'start Owl Loom with the demo skies' : 'start Owl Loom with your own data')
      .option('--port <number>', 'port to listen on', '4860')
      .option('--listen <address>', 'address to listen on; other than this machine only with a password', '127.0.0.1')
      .option('--name <host>', 'further host name, e.g. of a proxy, with its port if unusual (repeatable)', collect, [])
      .option('--proxy <address>', 'trusted proxy, whose forwarded addresses count (repeatable)', collect, [])
      .option('--tls-cert <file>', 'certificate in PEM, to serve https')
      .option('--tls-key <file>', 'its key')
      .action(async (options) => (await import('./start')).run(demo, options));
  }
}

function addChecks(program: Command): void {
  program
    .command('dev')
    .description('page and server that reload on a change, on the data of start; for developers')
    .action(async () => (await import('./dev')).run());
  program
    .command('test')
    .description("run every test, the browser's included")
    .option(
      '--long',
      'instead, a few hundred random faults under a running server, and ten thousand hostile files; at most an hour',
    )
    .action(async (options) => (await import('./test')).run(options));
}

function addMeasure(program: Command): void {
  const measure = program.command('measure').description('measure one file relative to another; prints JSON');
  measure
    .command('linear-fit')
    .description('the line a + b x that matches the target to the reference')
    .requiredOption('--reference <file>', 'the image to match')
    .requiredOption('--target <file>', 'the image to be matched')
    .option('--method <name>', 'auto, pixels or levels', 'auto')
    .action(async (options) => (await import('./measure')).fit(options));
  measure
    .command('continuum')
    .description('how much of a broadband image is in a line image')
    .requiredOption('--line <file>', 'the image through a line filter')
    .requiredOption('--broad <file>', 'the broadband image')
    .option('--method <name>', 'stars or skewness', 'stars')
    .action(async (options) => (await import('./measure')).continuum(options));
  measure
    .command('align')
    .description('the map from pixels of the target to pixels of the reference')
    .requiredOption('--reference <file>', 'the reference image')
    .requiredOption('--target <file>', 'the image to be aligned')
    .option('--model <name>', 'shift, similarity or affine', 'similarity')
    .addOption(
      new Option('--by <name>', 'stars, structures in both images, or the WCS of the files')
        .choices(['stars', 'structures', 'wcs'])
        .default('stars'),
    )
    .action(async (options) => (await import('./measure')).align(options));
}
