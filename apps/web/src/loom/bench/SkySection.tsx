import { strandOwners } from '#recipe/walk';
import { useState } from 'react';
import type { Recipe } from '#recipe/schema';
import { Button } from '../../ui/controls';
import { count } from '../../ui/numbers';
import { setValue } from '../edit';
import { useSession } from '../session';
import { Section } from './Rows';

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
    <Section title="true sky">
      <p className="text-[12.5px] text-hush">
        {sky
          ? `${count(sky.width)} x ${count(sky.height)} pixels at ${sky.x}, ${sky.y}. Drag it on the picture, or draw another with Shift.`
          : 'Taken from the whole picture. Show where the sky is dark and empty, and every sky level and noise is taken there.'}
      </p>
      {none && (
        <p role="alert" className="text-[12.5px] text-ember">
          No even dark place was found; draw one with Shift on the picture.
        </p>
      )}
      <div className="flex gap-2">
        <Button small onClick={() => void suggest()}>
          Find it
        </Button>
        <Button small disabled={!sky} onClick={() => setValue('sky', undefined)}>
          Whole picture
        </Button>
      </div>
    </Section>
  );
}
