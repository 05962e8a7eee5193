import { useApp, useSend } from '../../store/store';
import { looked } from '../../store/view';
import { Button } from '../../ui/controls';

/** Takes up, or puts down, the line that is drawn along what should be level. */
export function LevelButton() {
  const drawing = useApp((state) => state.view.tool === 'level');
  const send = useSend();
  return (
    <Button small look={drawing ? 'lamp' : 'plain'} onClick={() => send(looked({ tool: drawing ? null : 'level' }))}>
      Draw what should be level
    </Button>
  );
}
