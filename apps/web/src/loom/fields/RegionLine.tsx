import type { Rect } from '@owl-loom/image/geometry/rect';
import { Button } from '../../ui/controls';
import { count } from '../../ui/numbers';
import { setValue } from '../../document/edit';

/** The region that a step works in, or how to give it one. */
export function RegionLine({ path, region }: { path: string; region: unknown }) {
  const rect = region as Rect | undefined;
  return rect ? (
    <div className="flex items-center justify-between gap-2">
      <span className="text-soft">Region</span>
      <span className="flex items-center gap-2">
        <span className="figures">
          {count(rect.width)} × {count(rect.height)} px
        </span>
        <Button small onClick={() => setValue(path, undefined)}>
          Use whole picture
        </Button>
      </span>
    </div>
  ) : (
    <p className="text-[12.5px] text-hush">Uses the whole picture. Shift-drag to draw a region.</p>
  );
}
