import { COMPARES, type Compare } from '../image-view/compare';
import { ImageView } from '../image-view/ImageView';
import { Button, Choice } from '../ui/controls';
import { useFrameOf, useComparisonBitmaps } from '../store/thumbnail-urls';

const HOWS = COMPARES.flatMap(({ value, label }) => (value === 'off' || value === 'drift' ? [] : [{ value, label }]));

/** How two pictures are held against each other here. */
export type How = Exclude<Compare, 'off' | 'drift'>;

/** A picture by its name and address. */
export interface Shown {
  readonly id: string;
  readonly name: string;
  readonly picture: string;
}

/** Nothing to follow: the picture is whole. */
const still = (): void => undefined;

/** The large picture, with another held against it, or several in a grid; where there is none, why. */
export function Large({
  shown,
  others,
  how,
  instead,
}: {
  shown: Shown | undefined;
  others: readonly Shown[];
  how: How;
  instead: string;
}) {
  const sheet = useComparisonBitmaps(
    shown?.picture,
    others.map(({ picture }) => picture),
  );
  const names = others.map(({ name }) => name);
  const grid = others.length > 1;
  const frame = useFrameOf(sheet);
  return (
    <div className="min-h-0 grow">
      <ImageView
        frame={frame}
        sheet={shown && sheet}
        compare={grid ? 'grid' : others.length > 0 ? how : 'off'}
        names={shown && (grid ? [shown.name, ...names] : [...names, shown.name])}
        onLook={still}
        marks={{ 'data-testid': 'swatch', 'data-shown': sheet ? shown?.id : undefined }}
      >
        {!shown && <p className="absolute inset-0 grid place-items-center px-10 text-center text-hush">{instead}</p>}
      </ImageView>
    </div>
  );
}

/** How two are held against each other, and the way back to one. */
export function Pairing({
  names,
  how,
  onHow,
  onAlone,
}: {
  /** Of the others. */
  names: readonly string[];
  how: How;
  onHow: (how: How) => void;
  onAlone: () => void;
}) {
  return (
    <>
      {names.length === 1 && (
        <Choice hideLabel label={`against ${names[0]}`} value={how} options={HOWS} onChange={onHow} />
      )}
      <Button small onClick={onAlone}>
        Stop comparing
      </Button>
    </>
  );
}
