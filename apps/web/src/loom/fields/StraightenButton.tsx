import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { Button } from '../../ui/controls';

/** Takes up, or puts down, the line that is drawn along what should be level. */
export function LevelButton() {
  const drawing = useAppSelector((state) => state.view.tool === 'level');
  const send = useAppDispatch();
  return (
    <Button
      small
      look={drawing ? 'lamp' : 'plain'}
      onClick={() => send(viewChanged({ tool: drawing ? null : 'level' }))}
    >
      Straighten by a line
    </Button>
  );
}
