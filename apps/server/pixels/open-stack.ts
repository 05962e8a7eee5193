import type { StackInfo } from '@owl-loom/engine/graph';
import type { Card } from '@owl-loom/image/fits/cards';
import type { SourceSpec } from './sources';

/** An opened stack: what the engine and the exporter need of it. */
export interface OpenStack {
  readonly info: StackInfo;
  readonly source: SourceSpec;
  readonly name: string;
  readonly cards: readonly Card[];
  readonly topDown: boolean;
  readonly type: string;
  readonly filter?: string;
  readonly divisor: number;
}
