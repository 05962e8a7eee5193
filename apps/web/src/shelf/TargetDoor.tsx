import { Navigate, useParams } from 'react-router';
import { faultText, useTargetQuery } from '../store/api';
import { Trouble } from '../ui/ErrorText';

/** Opens a target by its plain address: its latest recipe, or its stacks where it has none. */
export function TargetDoor() {
  const { id = '' } = useParams();
  const { data, error } = useTargetQuery(id);
  if (error) return <Trouble message={faultText(error)} />;
  if (!data) return <div className="h-full bg-pit" />;
  const [latest] = data.recipes;
  return <Navigate replace to={latest ? `/targets/${id}/loom/${latest.id}` : `/targets/${id}/stacks`} />;
}
