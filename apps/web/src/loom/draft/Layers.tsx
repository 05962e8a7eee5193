import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useState } from 'react';
import type { Recipe } from '@owl-loom/recipe/schema';
import { layersOfList } from '@owl-loom/recipe/walk';
import { recipeChanged, selectionChanged } from '../../store/draft';
import { layerLocation, setAtPath, layerAt } from '@owl-loom/recipe/paths';
import { useAppDispatch } from '../../store/store';
import { AddLayer } from './AddLayer';
import { LayerCard } from './LayerCard';
import type { DraftLayout } from './layout';

/** The layers of the room that one is in, the top one on top, and the place for one more: above the chosen one, else on top of all. */
export function Layers({
  recipe,
  layout,
  chosen,
  noticeAt,
}: {
  recipe: Recipe;
  layout: DraftLayout;
  chosen: string;
  noticeAt: (path: string) => string | undefined;
}) {
  const send = useAppDispatch();
  const [adding, setAdding] = useState(false);
  const { room, layers, layersX, layerWidth, layerRow } = layout;
  const at = layers.findIndex(({ path }) => path === chosen);
  const index = at < 0 ? layers.length : at + 1;
  const bottom = (layers[0]?.y ?? 0) + layerRow;
  return (
    <>
      <SortableContext items={layers.map(({ path }) => path).toReversed()} strategy={verticalListSortingStrategy}>
        {layers.map(({ path, y }, i) => {
          const layer = layerAt(recipe, path);
          const inner = layersOfList(recipe, `${path}.of.layers`).at(-1);
          return (
            layer && (
              <LayerCard
                key={path}
                layer={layer}
                path={path}
                index={i}
                x={layersX}
                y={y}
                width={layerWidth}
                height={layerRow - (layerRow < 30 ? 3 : 6)}
                chosen={chosen === path}
                inside={chosen.startsWith(`${path}.`)}
                notice={noticeAt(path)}
                onChoose={() => send(selectionChanged(path))}
                onOpen={inner && (() => send(selectionChanged(inner.path)))}
                onToggle={() =>
                  send(
                    recipeChanged({
                      recipe: setAtPath(recipe, `${path}.visible`, layer.visible === false ? undefined : false),
                    }),
                  )
                }
              />
            )
          );
        })}
      </SortableContext>
      {adding && (
        <span
          aria-hidden="true"
          className="absolute z-20 flex items-center gap-2 text-[12px] text-lamp"
          style={{
            left: layersX - 8,
            width: layerWidth + 16,
            top: (layers[index - 1]?.y ?? bottom) - layerRow / 2 - 8,
          }}
        >
          <span className="h-px grow bg-lamp" /> <span className="rounded bg-room px-1.5">goes here</span>{' '}
          <span className="h-px grow bg-lamp" />
        </span>
      )}
      <AddLayer x={layersX + layerWidth - 66} y={14 + layout.down} list={room} index={index} onOpenChange={setAdding} />
    </>
  );
}

/** Where a layer comes to lie that is dropped on another of its room; undefined where it was not a layer of it. */
export function layerDrop(active: string, over: string): number | undefined {
  const [from, to] = [layerLocation(active), layerLocation(over)];
  return from && to && from.list === to.list && from.index !== to.index ? to.index : undefined;
}
