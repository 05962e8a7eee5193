import { DoorOpen, Ungroup } from 'lucide-react';
import type { Layer } from '@owl-loom/recipe/schema';
import { selectionChanged } from '../../store/draft';
import { useAppDispatch } from '../../store/store';
import { Button } from '../../ui/controls';
import { ungroup } from '../../document/edit-layers';
import { layerName, sourceName } from '@owl-loom/recipe/names';
import { Section } from '../fields/Rows';

/**
 * What lies in a small cloth, the way into it, and how it is taken apart.
 * @param why it cannot be, where it cannot
 */
export function Inside({ path, layers, why }: { path: string; layers: readonly Layer[]; why: string | undefined }) {
  const send = useAppDispatch();
  return (
    <Section title="Layers inside">
      <ul>
        {layers
          .map((layer, i) => (
            <li key={layer.id ?? `layer ${String(i)}`}>
              <button
                type="button"
                onClick={() => send(selectionChanged(`${path}.of.layers[${i}]`))}
                className={`flex w-full items-baseline gap-2 rounded-md px-2 py-1 text-left hover:bg-shelf ${layer.visible === false ? 'opacity-50' : ''}`}
              >
                <span className="truncate font-medium">{layerName(layer, i)}</span>
                <span className="truncate text-[12px] text-hush">{sourceName(layer.of)}</span>
                <span className="ml-auto text-[12px] text-soft">{i > 0 ? (layer.blend ?? 'normal') : ''}</span>
              </button>
            </li>
          ))
          .toReversed()}
      </ul>
      <div className="flex gap-1.5">
        <Button small onClick={() => send(selectionChanged(`${path}.of.layers[${layers.length - 1}]`))}>
          <DoorOpen size={13} /> Open
        </Button>
        <Button small disabled={why !== undefined} onClick={() => ungroup(path)}>
          <Ungroup size={13} /> Take apart
        </Button>
      </div>
      {why && <p className="text-[12.5px] text-hush">{why}</p>}
    </Section>
  );
}
