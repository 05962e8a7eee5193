import type { Difference } from '@owl-loom/recipe/diff';

/** Differences that are told, and in a narrow column; of more, how many they are. */
const TOLD = { wide: 6, narrow: 3 };

/** What differs between two recipes, in words. */
export function DiffList({
  title,
  differences,
  narrow = false,
  onTake,
}: {
  title: string;
  differences: readonly Difference[];
  narrow?: boolean;
  /** Takes what stands at a place into the recipe as it is now. */
  onTake?: (where: string) => void;
}) {
  const columns = narrow ? TOLD.narrow : TOLD.wide;
  const more = differences.length - columns;
  return (
    <div className="min-w-0">
      <h2 className="mb-1 truncate text-[12.5px] text-hush">{title}</h2>
      {differences.length === 0 ? (
        <p className="text-[12.5px] text-soft">No differences</p>
      ) : (
        <ul className={`grid gap-x-6 text-[12.5px] ${narrow ? '' : 'grid-cols-2'}`}>
          {differences.slice(0, columns).map(({ where, what }) => (
            <li key={`${where} ${what}`} className="flex items-baseline gap-2 text-soft" title={`${where}: ${what}`}>
              <span className="min-w-0 truncate">
                <b className="font-normal text-text">{where}</b> {what}
              </span>
              {onTake && (
                <button
                  type="button"
                  aria-label={`Apply ${where} from this swatch`}
                  title={`Apply only this change: ${where}`}
                  className="shrink-0 text-hush underline hover:text-lamp"
                  onClick={() => onTake(where)}
                >
                  Apply
                </button>
              )}
            </li>
          ))}
          {more > 0 && <li className="text-hush">and {more} more</li>}
        </ul>
      )}
    </div>
  );
}
