import type { starless } from '@owl-loom/recipe/steps/starless';
import { StarTaking } from '../fields/StarRemovalFields';
import type { PropsOf } from '../fields/step-editor';

export function StarlessEditor(props: PropsOf<typeof starless>) {
  return <StarTaking of={props} />;
}
