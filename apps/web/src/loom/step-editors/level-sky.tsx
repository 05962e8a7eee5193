import { levelSky } from '@owl-loom/recipe/steps/level-sky';
import { NumberField } from '../../ui/controls';
import { figure } from '../../ui/numbers';
import { useStepReport } from '../../session/measured-values';
import { RegionLine } from '../fields/RegionLine';
import { Rows, Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';

export function LevelSkyEditor({ path, params, set }: PropsOf<typeof levelSky>) {
  const measured = useStepReport(path, levelSky);
  return (
    <Section>
      <NumberField
        label="level"
        value={params.level}
        optional
        placeholder={measured ? figure(measured.level, 5) : 'mean'}
        onChange={(value) => set('level', value)}
      />
      {measured && (
        <Rows
          rows={[
            ['Sky measured', measured.sky.map((s) => figure(s, 5)).join(' ')],
            ['Set to', figure(measured.level, 5)],
          ]}
        />
      )}
      <RegionLine path={`${path}.region`} region={params.region} />
    </Section>
  );
}
