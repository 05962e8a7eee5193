import type { Cell } from './cells';

const TAG = 'pointer-events-none absolute rounded-md bg-black/75 px-2.5 py-1 text-[12.5px] text-lamp whitespace-nowrap';

/** Which of two pictures is which, beside the edge between them. */
export function PairNames({
  names: [other, own],
  blinks,
  blinked,
  left,
}: {
  names: readonly string[];
  blinks: boolean;
  blinked: boolean;
  left: number;
}) {
  if (blinks) return <span className={`${TAG} top-3 left-1/2 -translate-x-1/2`}>{blinked ? other : own}</span>;
  return (
    <>
      <span className={`${TAG} top-3 -translate-x-full`} style={{ left: left - 10 }}>
        {other}
      </span>
      <span className={`${TAG} top-3`} style={{ left: left + 10 }}>
        {own}
      </span>
    </>
  );
}

/** The name of each picture of a grid, in its corner; a window that is left says what it is there for. */
export function GridNames({ names, cells }: { names: readonly string[]; cells: readonly Cell[] }) {
  return cells.map((cell, i) => {
    const { left, top, width } = cell;
    const name = names[i];
    return name === undefined ? (
      <p
        key={`${left} ${top}`}
        className="pointer-events-none absolute grid place-items-center text-hush"
        style={{ ...cell }}
      >
        Select one more
      </p>
    ) : (
      <span
        key={`${left} ${top}`}
        className={`${TAG} truncate`}
        style={{ left: left + 8, top: top + 8, maxWidth: width - 16 }}
      >
        {name}
      </span>
    );
  });
}
