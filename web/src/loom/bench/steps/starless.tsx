import type { starless } from '../../../../../core/steps/starless';
import { StarTaking } from '../StarTaking';
import { editorOf } from './editor';

export const StarlessEditor = editorOf<typeof starless>((props) => <StarTaking of={props} />);
