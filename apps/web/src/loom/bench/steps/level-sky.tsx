import type { levelSky } from '#recipe/steps/level-sky';
import { NumberField } from '../../../ui/controls';
import { figure } from '../../../ui/numbers';
import { useMeasured } from '../editor';
import { RegionLine } from '../RegionLine';
import { Rows, Section } from '../Rows';
import type { PropsOf } from './editor';

export function LevelSkyEditor({ path, params, set }: PropsOf<typeof levelSky>) {
  const measured = useMeasured(path) as { sky: number[]; level: number } | undefined;
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
