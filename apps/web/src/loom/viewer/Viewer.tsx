import { type PointerEvent, type RefObject, useCallback, useEffect, useMemo, useState } from 'react';
import type { Recipe } from '@owl-loom/recipe/schema';
import { type Rect, sameRect } from '@owl-loom/image/geometry/rect';
import { type Overlay, type Spot, ImageView, type StageActions } from '../../image-view/ImageView';
import { stepLocation, stepAt } from '@owl-loom/recipe/paths';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { type ComparisonTarget, viewChanged } from '../../store/view';
import { stepInputPath } from '../../document/state-paths';
import { imageTitle } from '@owl-loom/recipe/names';
import { changeOf } from './touched';
import { usePicture, useSession } from '../../session/session';
import { AgainstBar } from './ComparisonBar';
import { askedRect } from './attribution-tool';
import { BrushMarks } from './BrushMarks';
import { Boxes } from './Boxes';
import { Contours } from './Contours';
import { rectBetween } from './resize-handles';
import { degreesPath, straighten } from './straighten';
import { LevelLine } from './StraightenLine';
import { GuardLine } from './GuardLine';
import { Loupe } from './Loupe';
import { Passepartout } from './CropMask';
import { pictureUnder } from './masked';
import { paintedMask } from './painting';
import { OriginPanel } from './AttributionPanel';
import { PlaceHandle } from './PlaceHandle';
import { notifyTouch } from './pointer';
import { Readout } from './Readout';
import { RegionPanel } from './RegionPanel';
import { Rects } from './Rects';
import { Shapes } from './Shapes';
import { StarHand } from './ManualStars';
import { StarMarks } from './StarMarks';
import { StateLine } from './StateLine';
import { useDriftLook } from './use-drift-look';
import { useFamilyVeil } from './use-family-veil';
import { useComparedImage } from './use-other';
import { useHueTouch } from './use-hue-touch';
import { usePainting } from './use-painting';
import { watchedPath } from './watched';

/**
 * The path that the picture shows: the chosen bead, or for a layer the cloth up to it. A layer that is moved by hand is seen on what it is
 * moved on.
 */
function shownPath(
  recipe: Recipe | null,
  chosen: string,
  alone: boolean,
  paths: Readonly<Record<string, unknown>> | undefined,
): string {
  const [, moved] = /^(.*\blayers\[\d+\])\.steps\[\d+\]$/.exec(chosen) ?? [];
  const byHand = moved !== undefined && recipe && stepAt(recipe, chosen)?.do === 'place';
  const layer = byHand ? moved : chosen;
  return /\blayers\[\d+\]$/.test(layer) && !alone && paths?.[`${layer}@cloth`] ? `${layer}@cloth` : chosen;
}

/** What the shown image is called beside some that it is held against. */
const OWN_NAMES: Partial<Record<ComparisonTarget['kind'], string>> = {
  before: 'after',
  unmasked: 'with its mask',
  held: 'now',
  opened: 'now',
};

interface Window {
  readonly rect: Rect;
  readonly zoom: number;
}

/** The picture at the chosen bead, with everything that can be marked, measured and drawn on it. */
export function Viewer({ stage }: { stage: RefObject<StageActions | null> }) {
  const { scene, look } = useSession();
  const { shown, fault, settling } = usePicture();
  const view = useAppSelector((state) => state.view);
  const chosen = useAppSelector((state) => state.draft.selectedPath);
  const recipe = useAppSelector((state) => state.draft.recipe);
  const send = useAppDispatch();
  const [seen, setSeen] = useState<Window>();
  const [from, setFrom] = useState<Spot>();
  const [to, setTo] = useState<Spot>();

  const orient = recipe?.cloth?.orient;
  const maskAs = view.unmasked ? 'not' : view.maskAs;
  const mask = recipe && maskAs !== 'alone' ? paintedMask(recipe, chosen) : undefined;
  const under = recipe && mask && scene ? pictureUnder(recipe, mask, scene.paths) : undefined;
  const hue = useHueTouch(seen?.zoom ?? 1);
  const watched = watchedPath(recipe, chosen, view, scene?.paths);
  const path = hue.path ?? watched ?? under ?? shownPath(recipe, chosen, view.layerAlone, scene?.paths);
  const veil = path === under && mask && maskAs !== 'alone' && maskAs !== 'not' ? mask.path : undefined;
  const family = useFamilyVeil();
  const touched = useMemo(
    () => (view.showChanged && recipe ? changeOf(recipe, chosen, path) : undefined),
    [view.showChanged, recipe, chosen, path],
  );
  const onCloth = path === 'cloth';
  const stepInput = recipe && path !== watched && stepLocation(chosen) ? stepInputPath(recipe, chosen) : undefined;
  const other = useComparedImage(path);
  const driftLook = useDriftLook();
  const drawable = scene?.paths[path] !== undefined;

  const onLook = useCallback(
    (rect: Rect, zoom: number) =>
      setSeen((before) => (before && before.zoom === zoom && sameRect(before.rect, rect) ? before : { rect, zoom })),
    [],
  );

  useEffect(() => {
    if (!seen || !drawable) return;
    const anchor = view.anchor && scene?.paths[view.anchor] && path.startsWith('strands') ? view.anchor : undefined;
    look({
      path,
      ...seen,
      display: {
        mode: view.mode,
        anchor,
        clipping: view.clipping,
        ...(view.showRemoved && stepInput && { less: stepInput }),
        ...(other && {
          other: other.path,
          otherIsBeside: other.beside,
          apart: view.compare === 'difference',
          ...(view.compare === 'drift' && { drift: driftLook }),
        }),
        ...(touched && { touched }),
        ...(family && path === chosen && { veil: family }),
        ...(veil && { veil: { path: veil, as: maskAs === 'hatch' ? 'hatch' : 'veil' } }),
      },
    });
  }, [
    look,
    seen,
    path,
    drawable,
    view.mode,
    view.anchor,
    view.clipping,
    view.showRemoved,
    stepInput,
    other,
    view.compare,
    driftLook,
    veil,
    family,
    chosen,
    touched,
    maskAs,
    scene,
  ]);

  // The tool works on what can be turned, whatever is chosen after it was taken up.
  const levelling = view.tool === 'level' && recipe !== null && degreesPath(recipe, chosen) !== undefined;

  const painting = usePainting(seen?.zoom ?? 1);

  // With the brush a drag paints, with Shift it draws a rectangle, with the level tool a line; else it pans.
  const onDrag = (event: PointerEvent, at: Spot, phase: 'down' | 'move' | 'up'): boolean => {
    if (view.tool === 'curve') {
      if (phase === 'down') notifyTouch({ x: Math.round(at.x), y: Math.round(at.y) });
      return true;
    }
    if (hue.onDrag(at, phase) || painting.onDrag(event, at, phase)) return true;
    const asking = view.tool === 'ask';
    if (phase === 'down' && !event.shiftKey && !levelling && !asking) return false;
    if (phase === 'down') setFrom(at);
    setTo(phase === 'up' ? undefined : at);
    if (phase !== 'up') return true;
    setFrom(undefined);
    if (from && recipe && levelling) {
      straighten(recipe, chosen, from, at);
      send(viewChanged({ tool: null }));
    } else if (from && scene && asking)
      send(viewChanged({ attributionRect: askedRect(from, at, scene.frame, seen?.zoom ?? 1) }));
    else if (from && scene) send(viewChanged({ region: rectBetween(from, at, scene.frame) }));
    return true;
  };

  const overlay: Overlay = ({ viewport, pane, size, spot }) => {
    const frame = scene?.frame;
    const pointer = spot && { ...spot, x: Math.round(spot.x), y: Math.round(spot.y) };
    const inside =
      pointer && frame && pointer.x >= 0 && pointer.y >= 0 && pointer.x < frame.width && pointer.y < frame.height
        ? pointer
        : undefined;
    return (
      <>
        {view.stars && <StarMarks path={path} viewport={viewport} pane={pane} />}
        {onCloth && orient?.degrees && frame ? (
          <Passepartout
            rect={typeof recipe?.cloth?.extent === 'object' ? recipe.cloth.extent : frame}
            viewport={viewport}
            pane={pane}
          />
        ) : null}
        <Rects
          chosen={chosen}
          viewport={viewport}
          pane={pane}
          drawing={
            (from && to && !levelling && frame && rectBetween(from, to, frame)) || view.attributionRect || undefined
          }
        />
        <Contours path={chosen} viewport={viewport} pane={pane} />
        {view.compare === 'off' && !view.showRemoved && <Boxes path={chosen} viewport={viewport} turned={pane} />}
        {view.compare === 'off' && <StarHand path={chosen} viewport={viewport} turned={pane} />}
        <PlaceHandle path={chosen} viewport={viewport} pane={pane} />
        {view.compare === 'off' && <Shapes viewport={viewport} pane={pane} />}
        {levelling && <LevelLine from={from} to={to} />}
        {painting.active && (
          <BrushMarks shape={painting.shape} way={painting.way} spot={spot} viewport={viewport} pane={pane} />
        )}
        <Readout pointer={inside} zoom={`${Math.round(viewport.zoom * devicePixelRatio * 100)} %`} />
        {view.guard && <GuardLine rect={view.guard} />}
        {view.attributionRect && <OriginPanel rect={view.attributionRect} />}
        {view.region && <RegionPanel rect={view.region} chosen={chosen} />}
        {view.loupe && inside && <Loupe pointer={inside} path={path} size={size} turned={pane} />}
      </>
    );
  };

  return (
    <ImageView
      frame={scene?.frame}
      sheet={shown?.reply}
      turn={(onCloth && orient?.turn) || 0}
      flip={(onCloth && orient?.flip) || 'none'}
      degrees={(onCloth && orient?.degrees) || 0}
      // Of a difference and of a drift the worker gives one picture, which is neither of the two.
      compare={view.compare === 'difference' || view.compare === 'drift' ? 'off' : view.compare}
      names={other ? [other.name, OWN_NAMES[view.comparisonTarget.kind] ?? imageTitle(recipe, path)] : undefined}
      actions={stage}
      onLook={onLook}
      onDrag={onDrag}
      onWheel={painting.onWheel}
      overlay={overlay}
      marks={{
        'data-testid': 'picture',
        'data-shown': shown?.path,
        'data-level': shown?.reply.level,
        'data-ms': shown ? Math.round(shown.reply.milliseconds) : undefined,
      }}
    >
      {view.compare !== 'off' && <AgainstBar other={other} />}
      <StateLine path={path} watching={path === watched} fault={fault} settling={settling} />
    </ImageView>
  );
}
