import { Pipette, Plus, X } from 'lucide-react';
import type { HueBand, hueBands } from '../../../../../core/steps/hue-bands';
import { useApp, useSend } from '../../../store/store';
import { looked } from '../../../store/view';
import { Button, IconButton, SliderField } from '../../../ui/controls';
import { Menu } from '../../../ui/Menu';
import { end } from '../editor';
import { HueStrip } from '../HueStrip';
import { Section } from '../Rows';
import { editorOf } from './editor';
import { BAND_STARTS, hueName } from './hue-names';

const PLANES = ['red', 'green', 'blue'] as const;

/** A number of a band, its slider's ends, and what its schema allows beyond them. */
interface Field {
  readonly key: 'centre' | 'width' | 'soft' | 'turn' | 'chroma' | 'lightness';
  readonly label: string;
  readonly min: number;
  readonly max: number;
}

const FAMILY: readonly Field[] = [
  { key: 'centre', label: 'middle', min: 0, max: 360 },
  { key: 'width', label: 'width', min: 0, max: 180 },
  { key: 'soft', label: 'falls over', min: 0, max: 90 },
];
const DEED: readonly Field[] = [
  { key: 'turn', label: 'turn', min: -180, max: 180 },
  { key: 'chroma', label: 'colour', min: 0, max: 2.5 },
  { key: 'lightness', label: 'lightness', min: -0.3, max: 0.3 },
];

export const HueBandsEditor = editorOf<typeof hueBands>(({ params, set }) => {
  const { bands } = params;
  const { piece, tool } = useApp((state) => state.view);
  const send = useSend();
  const at = Math.min(piece ?? 0, bands.length - 1);
  const band = bands[at];
  const touching = tool === 'hue';
  const put = (changes: Partial<HueBand>): void => set('bands', bands.with(at, { ...band, ...changes }), 'moving');
  const add = (made: HueBand): void => {
    set('bands', [...bands, made]);
    send(looked({ piece: bands.length }));
  };
  const slider = ({ key, label, min, max }: Field) => (
    <SliderField
      key={key}
      label={label}
      value={key === 'centre' ? ((band[key] % 360) + 360) % 360 : band[key]}
      min={min}
      max={max}
      digits={3}
      onChange={(value) =>
        put({ [key]: key === 'width' || key === 'soft' || key === 'chroma' ? Math.max(0, value) : value })
      }
      onCommit={end}
    />
  );
  return (
    <>
      <Section title="families, one after the other">
        <ul className="flex flex-wrap gap-1.5">
          {bands.map((own, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a family has no name of its own
            <li key={i}>
              <Button
                small
                look={i === at ? 'lamp' : 'plain'}
                aria-pressed={i === at}
                onClick={() => send(looked({ piece: i }))}
              >
                <i
                  aria-hidden="true"
                  className="inline-block h-3 w-3 rounded-[3px]"
                  style={{ background: `oklch(72% 0.13 ${own.centre})` }}
                />
                {hueName(own.centre)}
              </Button>
            </li>
          ))}
          <li>
            <Menu
              items={BAND_STARTS.map(({ label, says, band: made }) => ({ label, says, onSelect: () => add(made) }))}
            >
              <Button small>
                <Plus size={13} /> family
              </Button>
            </Menu>
          </li>
        </ul>
      </Section>
      {band && (
        <>
          <Section>
            <div className="flex items-center justify-between gap-3">
              <Button
                small
                look={touching ? 'lamp' : 'plain'}
                onClick={() => send(looked({ tool: touching ? null : 'hue', piece: at }))}
              >
                <Pipette size={13} /> {touching ? 'Now touch the picture' : 'Touch it on the picture'}
              </Button>
              <IconButton label="remove this family" onClick={() => set('bands', bands.toSpliced(at, 1))}>
                <X size={14} />
              </IconButton>
            </div>
            <HueStrip {...band} />
            {FAMILY.map(slider)}
          </Section>
          <Section title="what becomes of it">
            <HueStrip {...band} turned={band.turn} chroma={band.chroma} />
            {DEED.map(slider)}
          </Section>
          <Section title="push">
            {PLANES.map((plane, p) => (
              <SliderField
                key={plane}
                label={plane}
                value={band.shift[p]}
                min={-0.2}
                max={0.2}
                digits={3}
                onChange={(value) =>
                  put({ shift: band.shift.map((v, q) => (q === p ? value : v)) as HueBand['shift'] })
                }
                onCommit={end}
              />
            ))}
          </Section>
        </>
      )}
    </>
  );
});
