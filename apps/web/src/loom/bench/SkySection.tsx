import { strandOwners } from '@owl-loom/recipe/walk';
import { useState } from 'react';
import type { Recipe } from '@owl-loom/recipe/schema';
import { Button } from '../../ui/controls';
import { count } from '../../ui/numbers';
import { setValue } from '../../document/edit';
import { useSession } from '../../session/session';
import { Section } from '../fields/Rows';

/** Where the picture's darkest true sky is: every sky and noise that is found by itself is taken there. */
export function SkySection({ recipe }: { recipe: Recipe }) {
  const { engine } = useSession();
  const [none, setNone] = useState(false);
  const { sky } = recipe;
  const suggest = async (): Promise<void> => {
    const found = await engine.ask({ type: 'quiet', paths: strandOwners(recipe).map(({ path }) => path) });
    setNone(found === null);
    if (found) setValue('sky', found);
  };
  return (
    <Section title="Sky background">
      <p className="text-[12.5px] text-hush">
        {sky
          ? `${count(sky.width)} × ${count(sky.height)} px at x ${sky.x}, y ${sky.y}. Drag it on the picture, or Shift-drag another.`
          : 'Measured on the whole picture. Shift-drag over empty dark sky to measure sky level and noise there.'}
      </p>
      {none && (
        <p role="alert" className="text-[12.5px] text-ember">
          No even dark region found. Shift-drag one on the picture.
        </p>
      )}
      <div className="flex gap-2">
        <Button small onClick={() => void suggest()}>
          Find automatically
        </Button>
        <Button small disabled={!sky} onClick={() => setValue('sky', undefined)}>
          Use whole picture
        </Button>
      </div>
    </Section>
  );
}
