import type { starless } from '#recipe/steps/starless';
import { StarTaking } from '../StarRemovalFields';
import type { PropsOf } from './editor';

export function StarlessEditor(props: PropsOf<typeof starless>) {
  return <StarTaking of={props} />;
}
