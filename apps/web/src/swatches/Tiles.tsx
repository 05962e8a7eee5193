import { Columns2, Trash2 } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import { IconButton } from '../ui/controls';

/** How far the arrow keys go in two columns. */
const ARROWS: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -2, ArrowDown: 2 };

/** One small picture with its name. */
export interface Tile {
  readonly id: string;
  readonly name: string;
  readonly title: string;
  /** Address of its picture, or what stands there where it has none. */
  readonly picture: string | undefined;
  readonly empty: string;
  /** Whether it can be chosen without a picture. */
  readonly bare?: boolean;
  readonly note?: string;
  readonly onRemove?: () => void;
}

/** Small pictures in two columns: one is chosen, by a touch or by arrow keys, and others held against it. */
export function Tiles({
  kind,
  tiles,
  chosen,
  against,
  onChoose,
  onAgainst,
}: {
  kind: 'swatch' | 'palette' | 'past';
  tiles: readonly Tile[];
  chosen: string | undefined;
  /** Those that are held against the chosen one. */
  against: readonly string[];
  onChoose: (id: string) => void;
  onAgainst: (id: string) => void;
}) {
  const now = tiles.findIndex(({ id }) => id === chosen);
  const isOpen = ({ picture, bare }: Tile): boolean => bare === true || picture !== undefined;
  const onKeyDown = (event: KeyboardEvent<HTMLUListElement>): void => {
    const by = ARROWS[event.key];
    const next = tiles[now + (by ?? 0)];
    if (by === undefined || !next || !isOpen(next)) return;
    event.preventDefault();
    onChoose(next.id);
    event.currentTarget.querySelectorAll<HTMLElement>(`[data-${kind}]`)[now + by]?.focus();
  };
  return (
    <ul className="grid grid-cols-2 gap-x-3 gap-y-3" onKeyDown={onKeyDown}>
      {tiles.map((tile) => {
        const { id, name, title, picture, empty, note, onRemove } = tile;
        const on = id === chosen;
        return (
          <li key={id} className="group relative">
            <button
              type="button"
              {...{ [`data-${kind}`]: id }}
              aria-pressed={on}
              disabled={!isOpen(tile)}
              title={title}
              onClick={() => onChoose(id)}
              className={`block aspect-3/2 w-full overflow-hidden rounded-md border bg-pit ${on ? 'border-lamp' : 'border-edge hover:border-rim'}`}
            >
              {picture ? (
                <img src={picture} alt={name} className="size-full object-cover" />
              ) : (
                <span className="block px-2 text-[12px] leading-snug text-hush">{empty}</span>
              )}
            </button>
            <div className="mt-1 flex h-6 items-center gap-1">
              <span className={`truncate text-[12.5px] ${on ? 'text-lamp' : 'text-soft'}`}>{name}</span>
              <span className="ml-auto flex opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
                {onRemove && (
                  <IconButton label={`Remove the ${kind} ${name}`} onClick={onRemove}>
                    <Trash2 size={13} />
                  </IconButton>
                )}
              </span>
              {picture && !on && (
                <IconButton
                  label={
                    against.includes(id)
                      ? `Stop comparing with ${name}`
                      : `Compare ${name} with ${tiles[now]?.name ?? 'the picture'}`
                  }
                  active={against.includes(id)}
                  onClick={() => onAgainst(id)}
                >
                  <Columns2 size={14} />
                </IconButton>
              )}
            </div>
            {note !== undefined && <p className="truncate text-[12px] text-hush">{note}</p>}
          </li>
        );
      })}
    </ul>
  );
}
