import { COMPARES, type Compare } from '../stage/compare';
import { Stage } from '../stage/Stage';
import { Button, Choice } from '../ui/controls';
import { useFrameOf, useSheet } from './pictures';

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

/** The large picture, perhaps with another held against it; where there is none, why. */
export function Large({
  shown,
  other,
  how,
  instead,
}: {
  shown: Shown | undefined;
  other: Shown | undefined;
  how: How;
  instead: string;
}) {
  const sheet = useSheet(shown?.picture, other?.picture);
  const frame = useFrameOf(sheet);
  return (
    <div className="min-h-0 grow">
      <Stage
        frame={frame}
        sheet={shown && sheet}
        compare={other ? how : 'off'}
        names={other && shown ? [other.name, shown.name] : undefined}
        onLook={still}
        marks={{ 'data-testid': 'swatch', 'data-shown': sheet ? shown?.id : undefined }}
      >
        {!shown && <p className="absolute inset-0 grid place-items-center px-10 text-center text-hush">{instead}</p>}
      </Stage>
    </div>
  );
}

/** How the two are held against each other, and the way back to one. */
export function Pairing({
  name,
  how,
  onHow,
  onAlone,
}: {
  /** Of the other one. */
  name: string;
  how: How;
  onHow: (how: How) => void;
  onAlone: () => void;
}) {
  return (
    <>
      <Choice hideLabel label={`against ${name}`} value={how} options={HOWS} onChange={onHow} />
      <Button small onClick={onAlone}>
        One alone
      </Button>
    </>
  );
}
