import { autocompletion, type CompletionContext } from '@codemirror/autocomplete';
import { StandardSQL, sql } from '@codemirror/lang-sql';
import { bracketMatching } from '@codemirror/language';
import { setDiagnostics } from '@codemirror/lint';
import type { EditorState } from '@codemirror/state';
import { EditorView, showTooltip, type Tooltip } from '@codemirror/view';
import { useEffect, useRef } from 'react';
import type { Schemas } from '../api/client';
import { useEditor } from '../design/useEditor';
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
  const known = useRef(words);
  known.current = words;
  const { place, view } = useEditor(label, text, onChange, () => [
    bracketMatching(),
    sql({ dialect: StandardSQL }),
    autocompletion({ override: [(context) => offered(context, known.current)] }),
    showTooltip.compute(['doc', 'selection'], (state) => signature(state, known.current)),
    EditorView.lineWrapping,
  ]);

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
  }, [fault, view]);

  return <div ref={place} data-formula />;
}

/** What the function takes that the cursor is in. */
function signature(state: EditorState, { functions }: FormulaWords): Tooltip | null {
  const pos = state.selection.main.head;
  const word = callAt(state.doc.toString(), pos, functions);
  if (!word) return null;
  return {
    pos,
    above: true,
    create: () => {
      const dom = document.createElement('p');
      dom.style.cssText = 'margin: 0; padding: 4px 8px; max-width: 360px;';
      dom.append(Object.assign(document.createElement('code'), { textContent: word.signature }), ` ${word.doc}`);
      return { dom };
    },
  };
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
