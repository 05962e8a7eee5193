import { calibrate } from '@owl-loom/recipe/steps/calibrate';
import { Choice } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { count, figure } from '../../ui/numbers';
import { endGesture } from '../../document/edit';
import { useStepReport } from '../../session/measured-values';
import { Rows, Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';
import { type Triple, mapTriple, withEntry } from '@owl-loom/base/triple';

export function CalibrateEditor({ path, params, set, setAll }: PropsOf<typeof calibrate>) {
  const measured = useStepReport(path, calibrate);
  const white: Triple = params.white ?? measured?.white ?? [1, 1, 1];
  const rounded = mapTriple(white, (v) => Number(v.toPrecision(4)));
  return (
    <Section>
      <Choice
        label="method"
        value={params.method}
        options={[
          { value: 'stars', label: 'stars', hint: 'The average star is set to white' },
          { value: 'catalogue', label: 'catalogue', hint: 'Star colours are matched to the catalogue' },
          { value: 'manual', label: 'Manual' },
        ]}
        onChange={(method) => setAll({ method, white: method === 'manual' ? rounded : undefined })}
      />
      {params.method === 'manual'
        ? (['red', 'green', 'blue'] as const).map((name, p) => (
            <SliderField
              key={name}
              label={name}
              value={white[p]}
              min={0.2}
              max={5}
              log
              onChange={(value) => set('white', withEntry(white, p, value), 'moving')}
              onCommit={endGesture}
            />
          ))
        : measured && (
            <Rows
              rows={[
                [
                  measured.method === 'held' ? 'Gains (pinned)' : 'gains',
                  measured.white.map((v) => figure(v, 3)).join(' · '),
                ],
                ...(measured.stars ? [['stars', count(measured.stars)] as const] : []),
              ]}
            />
          )}
    </Section>
  );
}
