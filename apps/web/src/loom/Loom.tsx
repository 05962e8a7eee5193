import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { Group, Panel, Separator, useDefaultLayout, usePanelRef } from 'react-resizable-panels';
import type { StageActions } from '../image-view/ImageView';
import { faultText, useRecipeQuery, useStacksQuery, useTargetQuery } from '../store/api';
import { closed, recipeOpened } from '../store/draft';
import { useAppSelector, useAppDispatch } from '../store/store';
import { viewChanged } from '../store/view';
import { storage } from '../ui/stored-preference';
import { Trouble } from '../ui/ErrorText';
import { useAutosave } from '../session/autosave';
import { Bench } from './bench/Bench';
import { Draft } from './draft/Draft';
import { LoomSessionProvider } from '../session/session';
import { ShortcutList, useKeys } from './keys';
import { StacksContext } from '../session/stacks-context';
import { saveSwatch } from '../session/save-swatch';
import { useStateToGoBackTo } from '../session/restore-from-url';
import { TopBar } from './TopBar';
import { Viewer } from './viewer/Viewer';
import { useKeyedEffect } from '../ui/use-keyed-effect';

/** Height of the draft, as long as it is not asked for whole. */
const DRAFT = '200px';
/** The most of the window that the whole draft takes: the picture stays in sight. */
const MOST = 0.62;

/** The main screen: the picture in the middle, the bench at its right, the draft along the foot. */
export function Loom() {
  const { id = '', recipe: recipeId = '' } = useParams();
  const { data: target, error: targetError } = useTargetQuery(id);
  const { data: stacks, error: stacksError } = useStacksQuery(id);
  const { data: stored, error } = useRecipeQuery(recipeId);
  const open = useAppSelector((state) => state.draft.id);
  const send = useAppDispatch();
  const [help, setHelp] = useState(false);
  const showKeys = useCallback(() => setHelp(true), []);
  const stage = useRef<StageActions>(null);
  const keyboard = useMemo(
    () => ({ stage: () => stage.current, showList: showKeys, keepSwatch: () => void saveSwatch(id) }),
    [showKeys, id],
  );
  const rows = useDefaultLayout({ id: 'owl-loom-rows', storage, onlySaveAfterUserInteractions: true });
  const columns = useDefaultLayout({ id: 'owl-loom-columns', storage, onlySaveAfterUserInteractions: true });
  const draftPanel = usePanelRef();
  const tall = useAppSelector((state) => state.view.tallDraft);
  const wasTall = useRef(tall);
  useEffect(() => {
    // What a hand has drawn stays until the whole draft is asked for.
    if (wasTall.current === tall) return;
    wasTall.current = tall;
    const needs = Number(document.querySelector<HTMLElement>('[data-needs]')?.dataset.needs);
    draftPanel.current?.resize(tall && needs > 0 ? `${Math.min(needs, MOST * window.innerHeight)}px` : DRAFT);
  }, [draftPanel, tall]);
  useKeys(keyboard);
  useAutosave();
  useStateToGoBackTo(recipeId);

  // Only the first answer opens the recipe, later ones are echoes of our own saves.
  useKeyedEffect(() => {
    if (stored && stored.id === recipeId)
      send(recipeOpened({ id: stored.id, recipe: stored.body, revision: stored.revision }));
  }, [stored?.id, recipeId, send]);
  useEffect(
    () => () => {
      send(closed());
      send(viewChanged({ anchor: null, heldRecipe: null, comparisonTarget: { kind: 'before' } }));
    },
    [send],
  );

  if (!target || !stacks || open !== recipeId) {
    // Only what has never come is a reason to show nothing: an answer that fails later must not take the open recipe off the screen.
    const fault = error ?? targetError ?? stacksError;
    return fault ? <Trouble message={faultText(fault)} /> : <div className="h-full bg-pit" />;
  }
  return (
    <StacksContext value={stacks}>
      <LoomSessionProvider key={recipeId} target={id} stacks={stacks}>
        <div className="flex h-full flex-col">
          <TopBar target={target} onHelp={showKeys} />
          <Group {...rows} orientation="vertical" className="min-h-0 grow">
            <Panel id="upper-panel" minSize="30%">
              <Group {...columns} orientation="horizontal">
                <Panel id="viewer-panel" minSize="40%">
                  <Viewer stage={stage} />
                </Panel>
                <Separator className="w-px bg-edge hover:bg-lamp" />
                <Panel id="bench-panel" defaultSize="326px" minSize="290px" maxSize="480px">
                  <Bench />
                </Panel>
              </Group>
            </Panel>
            <Separator className="h-px bg-edge hover:bg-lamp" />
            <Panel id="draft-panel" defaultSize={DRAFT} minSize="120px" panelRef={draftPanel}>
              <Draft />
            </Panel>
          </Group>
          <ShortcutList open={help} onOpenChange={setHelp} />
        </div>
      </LoomSessionProvider>
    </StacksContext>
  );
}
