import type { starless } from '../../../../../core/steps/starless';
import { StarTaking } from '../StarTaking';
import type { PropsOf } from './editor';

export function StarlessEditor(props: PropsOf<typeof starless>) {
  return <StarTaking of={props} />;
}
