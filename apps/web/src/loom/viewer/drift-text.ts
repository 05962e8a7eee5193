import { DRIFTS, type DriftSummary, type DriftKind, DRIFT_THRESHOLDS } from '@owl-loom/algorithms/colour/drift';

/** What a share of the picture has done, by what of its colour has moved. */
const DEEDS: Readonly<Record<DriftKind, string>> = {
  hue: `changed hue by more than ${DRIFT_THRESHOLDS.hue}°`,
  lightness: `changed lightness by more than ${DRIFT_THRESHOLDS.lightness}`,
  chroma: `changed chroma by more than ${DRIFT_THRESHOLDS.chroma}`,
};

/** A share for reading. */
export function percent(share: number): string {
  if (share === 0) return 'nothing';
  return share < 0.001 ? 'under 0.1 %' : `${(100 * share).toFixed(1)} %`;
}

/** What a drift map tells of one kind, in words. */
export const driftText = (drift: DriftSummary, kind: DriftKind): string => `${percent(drift[kind])} ${DEEDS[kind]}`;

/** Shares of a guarded place that are worth a warning. */
const WORTH = 0.01;

/** What has become of a guarded place, in words; undefined where it is as good as it was. */
export function guardText(drift: DriftSummary): string | undefined {
  const moved = DRIFTS.filter((kind) => drift[kind] > WORTH).map((kind) => driftText(drift, kind));
  return moved.length > 0 ? moved.join(', ') : undefined;
}
