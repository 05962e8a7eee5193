import { autocompletion, closeBrackets } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { bracketMatching } from '@codemirror/language';
import { linter } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { EditorView, keymap } from '@codemirror/view';
import { useEffect, useRef } from 'react';
import { check, completion, highlighting } from './language';
import { useKeyedEffect } from '../../ui/use-keyed-effect';

const LOOK = EditorView.theme(
  {
    '&': {
      backgroundColor: 'var(--color-pit)',
      border: '1px solid var(--color-edge)',
      borderRadius: '8px',
      fontSize: '12.5px',
    },
    '&.cm-focused': { outline: 'none', borderColor: 'var(--color-lamp)' },
    '.cm-content': {
      fontFamily: 'Spline Sans Mono, monospace',
      padding: '8px 0',
      caretColor: '#f0b061',
      minHeight: '96px',
    },
    '.cm-line': { padding: '0 10px' },
    '.cm-cursor': { borderLeftColor: '#f0b061' },
    '.cm-selectionBackground, &.cm-focused .cm-selectionBackground': { backgroundColor: '#3d3d3d !important' },
    '.cm-matchingBracket': { backgroundColor: '#4a4a4a', color: 'inherit' },
    '.cm-tooltip': {
      backgroundColor: 'var(--color-board)',
      border: '1px solid var(--color-rim)',
      borderRadius: '8px',
      color: 'var(--color-text)',
    },
    '.cm-tooltip-autocomplete > ul > li[aria-selected]': {
      backgroundColor: 'var(--color-rim)',
      color: 'var(--color-text)',
    },
    '.cm-completionDetail': { color: 'var(--color-hush)', fontStyle: 'normal' },
    '.cm-diagnostic': { borderLeft: '3px solid var(--color-ember)', padding: '6px 10px', fontFamily: 'inherit' },
    '.cm-lintRange-error': { backgroundImage: 'none', borderBottom: '2px solid var(--color-ember)' },
  },
  { dark: true },
);

/** A formula as text: strands and functions complete themselves, faults are underlined with what was expected. */
export function FormulaEditor({
  text,
  known,
  onChange,
  onLeave,
}: {
  text: string;
  known: ReadonlyMap<string, 1 | 3>;
  onChange: (text: string) => void;
  onLeave: () => void;
}) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const handlers = useRef({ onChange, onLeave });
  handlers.current = { onChange, onLeave };
  const names = [...known].map(([name, planes]) => `${name} ${planes}`).join('\n');

  // The text is followed below; only other strands make a new editor.
  useKeyedEffect(() => {
    if (!host.current) return undefined;
    const made = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: text,
        extensions: [
          history(),
          closeBrackets(),
          bracketMatching(),
          highlighting(new Set(known.keys())),
          autocompletion({ override: [completion(known)], icons: false }),
          linter(check(known), { delay: 250 }),
          keymap.of([...defaultKeymap, ...historyKeymap]),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': 'Formula' }),
          LOOK,
          EditorView.updateListener.of((update) => {
            if (update.docChanged) handlers.current.onChange(update.state.doc.toString());
            if (update.focusChanged && !update.view.hasFocus) handlers.current.onLeave();
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [names]);

  // Undo in the Loom, or a formula to begin with, changes the text from outside.
  useEffect(() => {
    const editor = view.current;
    if (editor && editor.state.doc.toString() !== text)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text } });
  }, [text]);

  return <div ref={host} data-testid="formula" />;
}
