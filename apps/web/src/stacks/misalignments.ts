import { useState } from 'react';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { type Misalignment, misalignmentOf } from '@owl-loom/algorithms/registration/misalignment';
import { alignmentCheckRecipe } from '@owl-loom/recipe/palettes/prepare';
import { fetchMeasurements } from '../engine/measurements';
import type { StackRow } from '@owl-loom/api/stacks';
import { useKeyedEffect } from '../ui/use-keyed-effect';

/** How a stack lies on the reference, or why that cannot be told. */
export type Found = { readonly lie: Misalignment; readonly byStructures: boolean } | { readonly trouble: string };

/** What was found already, by the two stacks' pixels: it never changes. What went wrong may go right the next time. */
const known = new Map<string, Found>();

const keyOf = (row: StackRow, reference: StackRow): string => `${row.pixels} ${reference.pixels}`;

/** By stars, and where those are too few by the structures that both show. */
async function find(
  target: string,
  row: StackRow,
  reference: StackRow,
  signal: AbortSignal,
): Promise<Found | undefined> {
  let trouble = 'This could not be measured.';
  for (const by of [undefined, 'structures'] as const) {
    let figures: Readonly<Record<string, Measurement>> = {};
    const unmeasured = await fetchMeasurements(
      { target, recipe: alignmentCheckRecipe(row.name, reference.name, by), paths: ['strands[1]'], also: [] },
      async (reply) => {
        figures = reply.figures;
      },
      signal,
    );
    if (signal.aborted) return undefined;
    const align = Object.values(figures).find((figure) => figure.kind === 'align');
    if (align) return { lie: misalignmentOf(align.map, row), byStructures: by !== undefined };
    // What stars say is told: it names how many there are.
    if (!by) trouble = unmeasured?.message ?? trouble;
    if (!unmeasured?.tried) break;
  }
  return { trouble };
}

/** How each stack lies on the reference, found one after another while the screen is open. */
export function useMisalignments(
  target: string,
  rows: readonly StackRow[],
  reference: StackRow | undefined,
): ReadonlyMap<string, Found> {
  const [lies, setLies] = useState<ReadonlyMap<string, Found>>(new Map());
  const stamp =
    reference && [reference, ...rows].map((row) => `${row.id} ${row.name} ${row.pixels} ${row.lacking}`).join('|');
  // The stamp says when a stack or the reference is another, or can be had again.
  useKeyedEffect(() => {
    if (!reference) return undefined;
    const controller = new AbortController();
    const { signal } = controller;
    const go = async (): Promise<void> => {
      const found = new Map<string, Found>();
      for (const row of rows) {
        if (row.id === reference.id || signal.aborted) continue;
        const key = keyOf(row, reference);
        const one = known.get(key) ?? (await find(target, row, reference, signal));
        if (!one || signal.aborted) return;
        if ('lie' in one) known.set(key, one);
        found.set(row.id, one);
        setLies(new Map(found));
      }
    };
    setLies(new Map());
    void go();
    return () => controller.abort();
  }, [target, stamp]);
  return lies;
}
