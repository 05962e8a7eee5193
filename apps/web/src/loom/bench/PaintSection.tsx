import { Brush as BrushIcon, Circle, type LucideIcon, MoveDownRight, Pentagon, Trash2, Undo2 } from 'lucide-react';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { StepOwner } from '@owl-loom/recipe/walk';
import { viewChanged, type Brush } from '../../store/view';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { Button, Choice, IconButton } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { setValue, endGesture } from '../../document/edit';
import { paintOf, putPaint } from '../viewer/painting';
import { type Paint, paintName } from '../viewer/shapes';
import { Section } from '../fields/Rows';

const SHAPES: readonly { readonly shape: Brush['shape']; readonly label: string; readonly icon: LucideIcon }[] = [
  { shape: 'stroke', label: 'Brush: paint on the picture', icon: BrushIcon },
  { shape: 'ellipse', label: 'Ellipse: drag from corner to corner', icon: Circle },
  { shape: 'polygon', label: 'Polygon: draw around something', icon: Pentagon },
  { shape: 'ramp', label: 'Ramp: drag from full effect to none', icon: MoveDownRight },
];

const iconOf = (shape: Paint['shape']): LucideIcon => SHAPES.find((one) => one.shape === shape)?.icon ?? BrushIcon;

/** Painting on a mask: what the hand draws with, and what lies on the mask already. */
export function PaintSection({ owner, recipe }: { owner: StepOwner; recipe: Recipe }) {
  const { brush, tool, selectedShape: piece } = useAppSelector((state) => state.view);
  const send = useAppDispatch();
  const paint = paintOf(recipe, owner);
  const painting = tool === 'paint';
  const chosen = piece === null ? undefined : paint[piece];
  const takeUp = (shape: Brush['shape']): void => {
    const same = painting && brush.shape === shape;
    send(viewChanged({ tool: same ? null : 'paint', selectedShape: null, brush: { ...brush, shape } }));
  };
  return (
    <Section title="paint">
      <div className="flex items-center gap-1">
        {SHAPES.map(({ shape, label, icon: Icon }) => (
          <IconButton
            key={shape}
            label={label}
            active={painting && brush.shape === shape}
            onClick={() => takeUp(shape)}
          >
            <Icon size={15} />
          </IconButton>
        ))}
        <Button
          small
          look="quiet"
          className="ml-auto"
          disabled={paint.length === 0}
          onClick={() => putPaint(owner, paint.slice(0, -1))}
        >
          <Undo2 size={13} /> Undo last
        </Button>
      </div>
      {painting && !chosen && <BrushFields brush={brush} />}
      {paint.length > 0 && (
        <ul className="max-h-40 overflow-y-auto">
          {paint
            .map((shape, i) => {
              const Icon = iconOf(shape.shape);
              const on = i === piece;
              return (
                <li key={`${shape.shape} ${String(i)}`} className="flex items-center gap-1">
                  <button
                    type="button"
                    aria-pressed={on}
                    onClick={() => send(viewChanged({ selectedShape: on ? null : i, tool: null }))}
                    className={`flex min-w-0 grow items-center gap-2 rounded-md px-2 py-0.5 text-left ${on ? 'bg-shelf text-lamp' : 'text-soft hover:bg-shelf/60'}`}
                  >
                    <Icon size={13} className="shrink-0" /> {paintName(shape)}
                  </button>
                  <IconButton
                    label={`Remove this ${shape.shape}`}
                    onClick={() => putPaint(owner, paint.toSpliced(i, 1))}
                  >
                    <Trash2 size={13} />
                  </IconButton>
                </li>
              );
            })
            .toReversed()}
        </ul>
      )}
      {chosen && <PieceFields path={`${owner.path}.paint[${piece}]`} paint={chosen} />}
      <p className="text-[12.5px] text-hush">
        {painting && brush.shape === 'stroke'
          ? '[ and ] change the size; hold Space to pan.'
          : painting
            ? 'Draw it on the picture; hold Space to pan.'
            : chosen
              ? 'Drag the outline to move it, the handles to reshape it.'
              : paint.length === 0
                ? 'Nothing painted yet.'
                : 'The newest is on top. Select one here or on the picture to change it.'}
      </p>
    </Section>
  );
}

const MODES: readonly { value: Paint['mode']; label: string }[] = [
  { value: 'reveal', label: 'Show' },
  { value: 'hide', label: 'Hide' },
];

/** What the next stroke or shape will be like. */
function BrushFields({ brush }: { brush: Brush }) {
  const send = useAppDispatch();
  const set = (change: Partial<Brush>) => send(viewChanged({ brush: { ...brush, ...change } }));
  return (
    <Fields
      {...brush}
      sized={brush.shape === 'stroke'}
      onChange={({ mode, radius, soft, strength }) =>
        set({
          ...(mode && { mode }),
          ...(radius !== undefined && { radius }),
          ...(soft !== undefined && { soft }),
          ...(strength !== undefined && { strength }),
        })
      }
    />
  );
}

/** One that lies on the mask. */
function PieceFields({ path, paint }: { path: string; paint: Paint }) {
  return (
    <Fields
      shape={paint.shape}
      mode={paint.mode}
      radius={paint.shape === 'stroke' ? paint.radius : 0}
      soft={'soft' in paint ? (paint.soft ?? 0) : 0}
      strength={paint.strength ?? 1}
      sized={paint.shape === 'stroke'}
      onChange={(change) => {
        for (const [key, value] of Object.entries(change)) setValue(`${path}.${key}`, value, key);
      }}
      onCommit={endGesture}
    />
  );
}

type Change = Partial<Pick<Brush, 'mode' | 'radius' | 'soft' | 'strength'>>;

function Fields({
  shape,
  mode,
  radius,
  soft,
  strength,
  sized,
  onChange,
  onCommit,
}: Brush & { sized: boolean; onChange: (change: Change) => void; onCommit?: () => void }) {
  return (
    <>
      <Choice label="Paint" value={mode} options={MODES} onChange={(next) => onChange({ mode: next })} />
      {sized && (
        <SliderField
          label="size"
          value={radius}
          min={1}
          max={600}
          log
          digits={3}
          onChange={(next) => onChange({ radius: Math.max(1, next) })}
          onCommit={onCommit}
        />
      )}
      {shape !== 'ramp' && (
        <SliderField
          label="Feather"
          value={soft}
          min={0}
          max={600}
          digits={3}
          onChange={(next) => onChange({ soft: Math.max(0, next) })}
          onCommit={onCommit}
        />
      )}
      <SliderField
        label="Opacity"
        value={strength}
        min={0.02}
        max={1}
        digits={2}
        onChange={(next) => onChange({ strength: Math.min(1, Math.max(0.01, next)) })}
        onCommit={onCommit}
      />
    </>
  );
}
