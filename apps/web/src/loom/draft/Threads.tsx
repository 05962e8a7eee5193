import type { Recipe } from '@owl-loom/recipe/schema';
import { isPathInside } from '@owl-loom/recipe/walk';
import { useStrandColours } from '../../session/strands';
import type { DraftLayout } from './layout';

/** The way from the cloth through its steps, line after line, and out to the right. */
function finish({ clothX, clothY, clothBeads, clothAdd, clothEnd }: DraftLayout, off: number): string {
  const ys = [...new Set(clothBeads.map(({ y }) => y))];
  const [first = clothY, ...below] = ys;
  const start = clothX + 50;
  const parts = [
    `M${clothX} ${clothY + off}`,
    `H${start}`,
    `C${start + 10} ${clothY + off} ${start} ${first + off} ${start + 12} ${first + off}`,
  ];
  let y = first;
  for (const next of below) {
    // Back to the left between two lines.
    const [middle, right] = [(y + next) / 2, clothEnd + 4 + off];
    parts.push(
      `H${right - 6} q6 0 6 6 V${middle - 6 + off} q0 6 -6 6 H${start + 6 + off} q-6 0 -6 6 V${next - 6 + off} q0 6 6 6`,
    );
    y = next;
  }
  return `${parts.join(' ')} H${clothAdd.x + 44}`;
}

/**
 * The threads behind the beads: strands to the tie-up, from there to the layers that hold them, masks to what is seen through them, and all
 * layers to the cloth. A step that is seen through a mask has a short end hanging from it, and the whole line while either is chosen.
 */
export function Threads({ recipe, layout, chosen }: { recipe: Recipe; layout: DraftLayout; chosen: string }) {
  const strandColour = useStrandColours(recipe);
  const gridEnd = layout.columns[layout.columns.length - 1].x + 28;
  // What feeds the chosen layer stands out from what feeds the others.
  const onLayer = layout.layers.some(({ path }) => isPathInside(chosen, path));
  const rowOf = new Map(layout.rows.map((row) => [row.id, row]));
  const curve = (x0: number, y0: number, x1: number, y1: number) =>
    `M${x0} ${y0} C${x0 + (x1 - x0) * 0.5} ${y0} ${x0 + (x1 - x0) * 0.5} ${y1} ${x1} ${y1}`;
  return (
    <svg
      aria-hidden="true"
      className="pointer-events-none absolute inset-0"
      width={layout.width}
      height={layout.height}
      fill="none"
    >
      {layout.columns.map((column) => (
        <line
          key={column.name}
          x1={column.x}
          x2={column.x}
          y1={24}
          y2={layout.threadsEnd}
          stroke={column.colour}
          strokeOpacity={layout.mix ? 0.34 : 0.12}
          strokeWidth={1.5}
        />
      ))}
      {layout.rows.map((row) => {
        const colour = strandColour(row.id);
        return (
          <g key={row.id} stroke={colour} opacity={row.used ? 1 : 0.55}>
            {!row.folded && <path d={`M72 ${row.y} H${gridEnd}`} strokeWidth={5} strokeOpacity={0.16} />}
            <path d={`M${row.folded ? gridEnd - 8 : 72} ${row.y} H${gridEnd}`} strokeWidth={row.folded ? 1 : 1.6} />
          </g>
        );
      })}
      {layout.masks.map((mask) => (
        <g key={mask.path} stroke="var(--color-soft)" opacity={mask.used ? 0.9 : 0.5}>
          {!mask.folded && <path d={`M72 ${mask.y} H${mask.addX + 40}`} strokeWidth={1.4} strokeDasharray="2 4" />}
          {mask.uses.map(({ path, x, y, bead }) => (
            <path
              key={path}
              d={
                (bead || mask.folded) && !isPathInside(chosen, path) && !isPathInside(chosen, mask.path)
                  ? bead
                    ? `M${x} ${y} V${y + 8}`
                    : `M${x} ${y} H${x - 12}`
                  : curve(mask.addX + 40, mask.y, x, y)
              }
              strokeWidth={1.2}
              strokeDasharray="2 4"
              strokeOpacity={0.8}
            />
          ))}
        </g>
      ))}
      {layout.layers.flatMap((layer) =>
        layer.strands.map((id) => {
          const row = rowOf.get(id);
          return (
            row && (
              <path
                key={`${layer.path} ${id}`}
                d={curve(gridEnd, row.y, layout.layersX, layer.y)}
                stroke={strandColour(id)}
                strokeWidth={1.4}
                strokeOpacity={!onLayer || isPathInside(chosen, layer.path) ? 0.8 : 0.3}
              />
            )
          );
        }),
      )}
      {layout.layers.map((layer) => (
        <path
          key={layer.path}
          d={curve(layout.layersX + layout.layerWidth, layer.y, layout.clothX, layout.clothY)}
          stroke="var(--color-soft)"
          strokeWidth={1.4}
          strokeOpacity={layer.visible ? 0.7 : 0.2}
        />
      ))}
      {['var(--color-red)', 'var(--color-green)', 'var(--color-blue)'].map((colour, i) => (
        <path key={colour} d={finish(layout, 2 * i - 2)} stroke={colour} strokeOpacity={0.75} strokeWidth={1.4} />
      ))}
    </svg>
  );
}
