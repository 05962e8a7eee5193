import { type ReactNode, useState } from 'react';
import type { SwatchRow } from '@owl-loom/api/swatches';
import type { TargetCard } from '@owl-loom/api/targets';
import { Pick } from '../ui/Select';
import { Aside } from './ThumbnailColumn';
import { Foot } from './DetailFooter';
import { type How, Large, type Shown } from './LargePicture';
import { swatchPicture } from '../store/thumbnail-urls';
import { useComparisonSelection } from './use-comparison';
import { Wall } from './SwatchGrid';

const ORDERS = {
  newest: (a: SwatchRow, b: SwatchRow) => b.createdAt.localeCompare(a.createdAt),
  oldest: (a: SwatchRow, b: SwatchRow) => a.createdAt.localeCompare(b.createdAt),
  name: (a: SwatchRow, b: SwatchRow) => a.name.localeCompare(b.name),
} as const;
type Order = keyof typeof ORDERS;
const ORDER_NAMES: { value: Order; label: string }[] = [
  { value: 'newest', label: 'Newest first' },
  { value: 'oldest', label: 'Oldest first' },
  { value: 'name', label: 'By name' },
];

/** Every kept state of a target: one large, others held against it with what differs in words, and the way back to it. */
export function Kept({
  target,
  swatches,
  tabs,
}: {
  target: TargetCard;
  swatches: readonly SwatchRow[];
  tabs: ReactNode;
}) {
  const [chosen, setChosen] = useState<string>();
  const { held, turn, none } = useComparisonSelection();
  const [how, setHow] = useState<How>('wipe');
  const [order, setOrder] = useState<Order>('newest');
  const [sought, setSought] = useState('');
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = swatches
    .filter(({ name, note }) => words.every((word) => `${name} ${note}`.toLowerCase().includes(word)))
    .toSorted(ORDERS[order]);
  const one = shown.find(({ id }) => id === chosen) ?? shown.find(({ picture }) => picture) ?? shown[0];
  const others = held.flatMap((wanted) =>
    swatches.filter(({ id, picture }) => picture && id === wanted && id !== one?.id),
  );
  const pictured = (swatch: SwatchRow | undefined): Shown[] => {
    const picture = swatchPicture(swatch?.picture);
    return swatch && picture ? [{ id: swatch.id, name: swatch.name, picture }] : [];
  };
  const instead = one
    ? (one.trouble ?? 'Weaving …')
    : swatches.length > 0
      ? 'No swatch matches.'
      : 'No swatches yet. Press C in the Loom to save the current picture.';
  return (
    <>
      <section className="flex min-w-0 grow flex-col">
        <Large shown={pictured(one)[0]} others={others.flatMap(pictured)} how={how} instead={instead} />
        {one && (
          <Foot key={one.id} target={target} swatch={one} others={others} how={how} onHow={setHow} onAlone={none} />
        )}
      </section>
      <Aside tabs={tabs}>
        {swatches.length > 0 && (
          <div className="flex shrink-0 items-center gap-2 px-4 pb-3">
            <input
              aria-label="Search names and notes"
              placeholder="Search"
              value={sought}
              onChange={(event) => setSought(event.target.value)}
              className="h-8 min-w-0 grow rounded-md border border-edge bg-pit px-2.5 focus:border-lamp"
            />
            <div className="[&_span.text-soft]:sr-only">
              <Pick label="order" value={order} options={ORDER_NAMES} onChange={setOrder} />
            </div>
          </div>
        )}
        <Wall
          swatches={shown}
          chosen={one?.id}
          against={others.map(({ id }) => id)}
          onChoose={setChosen}
          onAgainst={turn}
        />
      </Aside>
    </>
  );
}
