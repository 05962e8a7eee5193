import { strandPath } from '@owl-loom/recipe/walk';
import { expectBackground } from '@owl-loom/engine/measurements/index';
import type { Recipe } from '@owl-loom/recipe/schema';
import { figure } from '../../ui/numbers';
import { useReport } from '../../session/session';
import { useStrandColours } from '../../session/strands';
import { useNoiseMeasurements } from '../../session/use-requested-measurement';

/** The noise of an average against that of each strand in it, and how far their signal stands above it. */
export function AverageNoise({ recipe, self, parts }: { recipe: Recipe; self: string; parts: readonly string[] }) {
  const strandColour = useStrandColours(recipe);
  const described = useReport();
  useNoiseMeasurements(recipe);
  const rows = [...parts, self].map((id) => {
    const found = described?.tones[strandPath(recipe, id) ?? ''];
    const tones = found ? expectBackground(found) : [];
    const mean = (of: (tone: (typeof tones)[number]) => number) =>
      tones.reduce((sum, tone) => sum + of(tone), 0) / tones.length;
    return {
      id,
      noise: mean((tone) => tone.noise),
      ratio: mean((tone) => tone.spread / tone.noise),
      own: id === self,
    };
  });
  const best = Math.max(...rows.filter((row) => !row.own && Number.isFinite(row.ratio)).map((row) => row.ratio));
  return (
    <table className="figures w-full text-[13px]">
      <thead>
        <tr className="text-right text-[12px] text-hush">
          <th />
          <th className="font-normal">Noise</th>
          <th className="font-normal">S/N</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.id} className={`text-right ${row.own ? 'border-t border-edge text-lamp' : ''}`}>
            <td className="py-0.5 text-left font-sans" style={row.own ? undefined : { color: strandColour(row.id) }}>
              {row.own ? 'Average' : row.id}
            </td>
            <td>{figure(row.noise, 5)}</td>
            <td>
              {figure(row.ratio, 1)}
              {row.own && Number.isFinite(best) && Number.isFinite(row.ratio)
                ? ` · ${figure(row.ratio / best, 2)} × the best strand`
                : ''}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
