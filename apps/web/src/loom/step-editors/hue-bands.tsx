import { ArrowLeft, ArrowRight, Pipette, Plus, Power, ScanEye, Trash2 } from 'lucide-react';
import { FULL_CHROMA } from '@owl-loom/algorithms/colour/hue-membership';
import type { hueBands } from '@owl-loom/recipe/steps/hue-bands';
import type { HueBand } from '@owl-loom/engine/steps/hue-bands';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { Button, IconButton } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { Menu } from '../../ui/Menu';
import { endGesture } from '../../document/edit';
import { AboveField } from '../fields/AboveField';
import { HueRing } from '../fields/HueRing';
import { stepInputPath } from '../../document/state-paths';
import { Section } from '../fields/Rows';
import { useColourHistogram } from '../fields/use-colours';
import type { PropsOf } from '../fields/step-editor';
import { BAND_STARTS, FAMILIES, hueName, ownBand } from '../fields/hue-names';
import { withEntry } from '@owl-loom/base/triple';

const PLANES = ['red', 'green', 'blue'] as const;
/** How far a push by the slider goes; one that is typed goes as far as it says. */
const PUSH = 0.5;

/** A number of a band, its slider's ends, and what its schema allows beyond them. */
interface Field {
  readonly key: 'centre' | 'width' | 'soft' | 'turn' | 'chroma' | 'lightness';
  readonly label: string;
  readonly min: number;
  readonly max: number;
  readonly usual?: number;
}

const FAMILY: readonly Field[] = [
  { key: 'centre', label: 'Centre', min: 0, max: 360 },
  { key: 'width', label: 'width', min: 0, max: 180 },
  { key: 'soft', label: 'Feather', min: 0, max: 90 },
];
const DEED: readonly Field[] = [
  { key: 'turn', label: 'Hue shift', min: -180, max: 180, usual: 0 },
  { key: 'chroma', label: 'Chroma', min: 0, max: 2.5, usual: 1 },
  { key: 'lightness', label: 'lightness', min: -0.3, max: 0.3, usual: 0 },
];

export function HueBandsEditor(props: PropsOf<typeof hueBands>) {
  const { path, recipe, params, set } = props;
  const { bands } = params;
  const { selectedShape: piece, tool, familyVeiled } = useAppSelector((state) => state.view);
  const send = useAppDispatch();
  const at = Math.min(piece ?? 0, bands.length - 1);
  const band = bands[at];
  const touching = tool === 'hue';
  const colours = useColourHistogram(stepInputPath(recipe, path));
  const choose = (piece: number): void => void send(viewChanged({ selectedShape: piece }));
  const put = (changes: Partial<HueBand>): void => set('bands', bands.with(at, { ...band, ...changes }), 'moving');
  const shift = (by: -1 | 1): void => {
    set('bands', bands.toSpliced(at, 1).toSpliced(at + by, 0, band));
    choose(at + by);
  };
  const add = (made: HueBand): void => {
    set('bands', [...bands, made]);
    send(viewChanged({ selectedShape: bands.length }));
  };
  const slider = ({ key, label, min, max, usual }: Field) => (
    <SliderField
      key={key}
      label={label}
      value={key === 'centre' ? ((band[key] % 360) + 360) % 360 : band[key]}
      min={min}
      max={max}
      usual={usual}
      digits={3}
      onChange={(value) =>
        put({ [key]: key === 'width' || key === 'soft' || key === 'chroma' ? Math.max(0, value) : value })
      }
      onCommit={endGesture}
    />
  );
  return (
    <>
      <Section title="Hue ranges, applied in order">
        <ul className="flex flex-wrap gap-1.5">
          {bands.map((own, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a family has no name of its own
            <li key={i}>
              <Button
                small
                look={i === at ? 'lamp' : 'plain'}
                aria-pressed={i === at}
                className={own.off ? 'line-through opacity-60' : ''}
                onClick={() => choose(i)}
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
              items={[
                {
                  label: 'Custom',
                  says: 'starts at the most colourful hue of the picture',
                  onSelect: () => add(ownBand(colours?.hues)),
                },
                ...BAND_STARTS.map(({ label, says, band: made }, i) => ({
                  label,
                  says,
                  apart: i === 0,
                  onSelect: () => add(made),
                })),
                ...FAMILIES.map((made, i) => ({
                  label: hueName(made.centre),
                  apart: i === 0,
                  onSelect: () => add(made),
                })),
              ]}
            >
              <Button small>
                <Plus size={13} /> Hue range
              </Button>
            </Menu>
          </li>
        </ul>
        {!band && <p className="text-[12.5px] text-hush">No changes yet. Add a hue range to begin.</p>}
      </Section>
      {band && (
        <>
          <Section>
            <HueRing bands={bands} at={at} colours={colours} onChoose={choose} onChange={put} onEnd={endGesture} />
            <div className="flex items-center gap-1.5">
              <Button
                small
                look={touching ? 'lamp' : 'plain'}
                onClick={() => send(viewChanged({ tool: touching ? null : 'hue', selectedShape: at }))}
              >
                <Pipette size={13} /> {touching ? 'Click the picture …' : 'Pick from the picture'}
              </Button>
              <Button
                small
                look={familyVeiled ? 'lamp' : 'plain'}
                aria-pressed={familyVeiled}
                onClick={() => send(viewChanged({ familyVeiled: !familyVeiled }))}
              >
                <ScanEye size={13} /> Show affected pixels
              </Button>
            </div>
            <div className="flex items-center gap-1.5">
              <Button
                small
                look={band.off ? 'lamp' : 'plain'}
                onClick={() => put({ off: band.off ? undefined : true })}
              >
                <Power size={13} /> {band.off ? 'Turn on' : 'Turn off'}
              </Button>
              <span className="ml-auto flex">
                <IconButton label="Move earlier" disabled={at === 0} onClick={() => shift(-1)}>
                  <ArrowLeft size={15} />
                </IconButton>
                <IconButton label="Move later" disabled={at === bands.length - 1} onClick={() => shift(1)}>
                  <ArrowRight size={15} />
                </IconButton>
                <IconButton label="Remove hue range" onClick={() => set('bands', bands.toSpliced(at, 1))}>
                  <Trash2 size={14} />
                </IconButton>
              </span>
            </div>
          </Section>
          <Section>{FAMILY.map(slider)}</Section>
          <Section title="Adjustment">{DEED.map(slider)}</Section>
          <Section title="RGB offset">
            {PLANES.map((plane, p) => (
              <SliderField
                key={plane}
                label={plane}
                value={band.shift[p]}
                // As far as colours are usually pushed, and as far as was typed.
                min={-Math.max(PUSH, Math.abs(band.shift[p]))}
                max={Math.max(PUSH, Math.abs(band.shift[p]))}
                usual={0}
                digits={3}
                onChange={(value) => put({ shift: withEntry(band.shift, p, value) })}
                onCommit={endGesture}
              />
            ))}
          </Section>
          <AboveField of={props} usual={FULL_CHROMA} />
        </>
      )}
    </>
  );
}
