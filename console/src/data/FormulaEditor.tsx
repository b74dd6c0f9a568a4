import { autocompletion, type CompletionContext, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { StandardSQL, sql } from '@codemirror/lang-sql';
import { bracketMatching } from '@codemirror/language';
import { setDiagnostics } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { EditorView, keymap, showTooltip, type Tooltip } from '@codemirror/view';
import { useEffect, useRef } from 'react';
import type { Schemas } from '../api/client';
import { editorLook } from '../design/YamlEditor';
import { callAt } from './formula';

export interface FormulaWords {
  /** Fields and measures that can stand in it. */
  names: { name: string; title: string; kind: string }[];
  functions: Schemas['FormulaWord'][];
}

interface Props {
  label: string;
  text: string;
  words: FormulaWords;
  /** What is wrong with it, at its characters. */
  fault: Schemas['FormulaFaultInfo'] | null | undefined;
  onChange: (text: string) => void;
}

/** An editor for one formula: names and functions are offered, the function one is in says what it takes, a fault stands at its characters. */
export default function FormulaEditor({ label, text, words, fault, onChange }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const told = useRef(onChange);
  told.current = onChange;
  const known = useRef(words);
  known.current = words;
  const opening = useRef(text);

  useEffect(() => {
    if (!place.current) return;
    const signature = (state: EditorState): Tooltip | null => {
      const word = callAt(state.doc.toString(), state.selection.main.head, known.current.functions);
      if (!word) return null;
      return {
        pos: state.selection.main.head,
        above: true,
        create: () => {
          const dom = document.createElement('p');
          dom.style.cssText = 'margin: 0; padding: 4px 8px; max-width: 360px;';
          dom.append(Object.assign(document.createElement('code'), { textContent: word.signature }), ` ${word.doc}`);
          return { dom };
        },
      };
    };
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: opening.current,
        extensions: [
          history(),
          bracketMatching(),
          sql({ dialect: StandardSQL }),
          autocompletion({ override: [(context) => offered(context, known.current)] }),
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap]),
          showTooltip.compute(['doc', 'selection'], signature),
          EditorView.lineWrapping,
          ...editorLook,
          EditorView.contentAttributes.of({ 'aria-label': label }),
          EditorView.updateListener.of((u) => u.docChanged && told.current(u.state.doc.toString())),
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, [label]);

  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const { length } = editor.state.doc;
    const from = Math.min(length, fault?.start ?? 0);
    editor.dispatch(
      setDiagnostics(
        editor.state,
        fault
          ? [{ from, to: Math.min(length, Math.max(from + 1, fault.end)), severity: 'error', message: fault.message }]
          : [],
      ),
    );
  }, [fault]);

  return <div ref={place} data-formula />;
}

/** The names and functions that begin with what stands at the cursor. */
function offered(context: CompletionContext, { names, functions }: FormulaWords) {
  const word = context.matchBefore(/[A-Za-z_][A-Za-z0-9_]*/);
  if (!word && !context.explicit) return null;
  return {
    from: word?.from ?? context.pos,
    options: [
      ...names.map((n) => ({ label: n.name, detail: `${n.title}, ${n.kind}`, boost: 1 })),
      ...functions.map((f) => ({ label: f.name, apply: `${f.name}(`, detail: f.signature, info: f.doc })),
    ],
    validFor: /^[A-Za-z0-9_]*$/,
  };
}
