import { useSortable } from '@dnd-kit/sortable';
import { DoorOpen, Eye, EyeOff } from 'lucide-react';
import type { Layer } from '@owl-loom/recipe/schema';
import { IconButton } from '../../ui/controls';
import { blendName, layerName, sourceName } from '@owl-loom/recipe/names';

/** One layer in the draft: its name, what it is made of, how it is laid, and whether it shows. */
export function LayerCard({
  layer,
  path,
  index,
  x,
  y,
  width,
  height,
  chosen,
  inside,
  notice,
  onChoose,
  onOpen,
  onToggle,
}: {
  layer: Layer;
  path: string;
  index: number;
  x: number;
  y: number;
  width: number;
  height: number;
  chosen: boolean;
  inside: boolean;
  notice: string | undefined;
  onChoose: () => void;
  /** Goes into its small cloth, where it is one. */
  onOpen: (() => void) | undefined;
  onToggle: () => void;
}) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useSortable({ id: path });
  const hidden = layer.visible === false;
  const steps = layer.steps?.filter((step) => !step.off).length ?? 0;
  const blend = layer.blend ?? 'normal';
  const part = layer.opacity !== undefined && layer.opacity < 1 ? ` ${Math.round(layer.opacity * 100)} %` : '';
  return (
    <div
      ref={setNodeRef}
      className={`absolute ${isDragging ? 'z-20 shadow-xl' : 'z-10'} flex -translate-y-1/2 items-center rounded-md border ${chosen ? 'border-lamp bg-lamp/15' : inside ? 'border-lamp-deep bg-board' : 'border-edge bg-board hover:bg-shelf'} ${hidden ? 'opacity-50' : ''}`}
      style={{
        left: x,
        top: y,
        width,
        height,
        transform: transform ? `translate(0, calc(-50% + ${transform.y}px))` : undefined,
      }}
    >
      <button
        type="button"
        {...attributes}
        {...listeners}
        aria-roledescription="layer"
        data-path={path}
        aria-pressed={chosen}
        onClick={onChoose}
        onDoubleClick={onOpen}
        className={`flex h-full min-w-0 grow items-center gap-2 pl-3 text-left ${height < 26 ? 'text-[12.5px]' : ''}`}
      >
        <span title={layerName(layer, index)} className="min-w-10 truncate font-medium">
          {layerName(layer, index)}
        </span>
        {/* What it is made of gives way to its name. */}
        <span className="min-w-0 shrink-[1000] truncate text-[12px] text-hush">
          {sourceName(layer.of)}
          {steps > 0 ? `, ${steps} step${steps > 1 ? 's' : ''}` : ''}
        </span>
        {layer.mask !== undefined && (
          <span
            role="img"
            aria-label="masked"
            title={typeof layer.mask === 'string' ? `Mask: ${layer.mask}` : 'Own mask'}
            className="h-3 w-2.5 shrink-0 rounded-[2px] border border-dashed border-soft"
          />
        )}
        <span className="ml-auto shrink-0 pr-1 text-[12px] whitespace-nowrap text-soft">
          {blendName(blend)}
          {part}
        </span>
      </button>
      {notice && <span title={notice} className="mr-1 size-2.5 shrink-0 rotate-45 bg-ember" />}
      {onOpen && (
        <IconButton label="Open this small cloth" onClick={onOpen} className="max-h-full">
          <DoorOpen size={14} />
        </IconButton>
      )}
      <IconButton label={hidden ? 'Show this layer' : 'Hide this layer'} onClick={onToggle} className="max-h-full">
        {hidden ? <EyeOff size={14} /> : <Eye size={14} />}
      </IconButton>
    </div>
  );
}
