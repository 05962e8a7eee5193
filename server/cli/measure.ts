import type { Command } from 'commander';
import { UserError } from '../../core/errors';
import type { FitMethod } from '../../core/fit/linear';
import { Pool } from '../render/pool';
import { loadStack, openStack, sameSize } from '../render/stack';
import { printJson } from './options';

const METHODS: readonly FitMethod[] = ['auto', 'pixels', 'levels'];

async function measureFit(options: { reference: string; target: string; method: string }): Promise<void> {
  const method = METHODS.find((name) => name === options.method);
  if (!method) throw new UserError('bad-option', `--method takes auto, pixels or levels, not "${options.method}".`);
  const reference = await openStack(options.reference);
  const target = await openStack(options.target);
  sameSize(target, reference);
  if (target.info.planes === 1 && reference.info.planes === 3) throw new UserError('fit-planes', `${reference.name} is in colour and ${target.name} is mono; give a mono reference.`);
  const pool = new Pool();
  try {
    const images = [await loadStack(target), await loadStack(reference)];
    const figure = await pool.measure({ spec: { kind: 'fit', nodes: [0, 1], method }, images });
    if (figure.kind === 'fit') printJson(figure.planes.length === 1 ? figure.planes[0] : figure.planes);
  } finally {
    await pool.close();
  }
}

export function addMeasure(program: Command): void {
  const measure = program.command('measure').description('measure two files against each other; prints JSON');
  measure
    .command('linear-fit')
    .description('the line a + b x that brings the target to the reference')
    .requiredOption('--reference <file>', 'the image to match')
    .requiredOption('--target <file>', 'the image to be matched')
    .option('--method <name>', 'auto, pixels or levels', 'auto')
    .action(measureFit);
}
