import { autocompletion, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import { indentWithTab } from '@codemirror/commands';
import { yaml } from '@codemirror/lang-yaml';
import { type Diagnostic, lintGutter, setDiagnostics } from '@codemirror/lint';
import { EditorView, hoverTooltip, keymap, lineNumbers, type Tooltip } from '@codemirror/view';
import { useEffect, useImperativeHandle, useRef } from 'react';
import type { FaultInfo } from '../api/client';
import { useEditor } from './useEditor';
import type { Offer } from './words';

/** What can be done with an editor from outside. */
export interface Editor {
  /** Sets the text: of what is the same, nothing moves. */
  write: (text: string) => void;
  /** Puts the cursor to a place, from 1. */
  go: (line: number, column: number) => void;
}

/** What is known of a file's words: at a place with lines above it and a text before it on its line. */
export interface Wording {
  offers: (above: string, before: string) => Offer[];
  help: (above: string, before: string, key: string) => string | undefined;
}

interface Props {
  text: string;
  label: string;
  /** What is wrong with the text. */
  faults: FaultInfo[];
  words: Wording;
  /** Hears of what is typed, and whether that takes back or brings back what was typed before. */
  onChange: (text: string, isBack: boolean) => void;
  ref?: React.Ref<Editor>;
}

/** An editor for a file of definitions: what the service finds wrong stands at its place, names that exist are offered. */
export default function YamlEditor({ text, label, faults, words, onChange, ref }: Props) {
  const known = useRef(words);
  known.current = words;
  const { place, view } = useEditor(label, text, onChange, () => [
    lineNumbers(),
    lintGutter(),
    hoverTooltip((view, at) => help(view, at, known.current)),
    autocompletion({ override: [(context) => offered(context, known.current)] }),
    keymap.of([indentWithTab]),
    yaml(),
  ]);

  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const { doc } = editor.state;
    const found = faults.map((f): Diagnostic => {
      const line = doc.line(Math.max(1, Math.min(doc.lines, f.line)));
      const from = Math.min(line.to, line.from + Math.max(0, f.column - 1));
      const rest = /^\S*/.exec(doc.sliceString(from, line.to))?.[0].length ?? 0;
      return {
        from,
        to: Math.max(from, Math.min(line.to, from + Math.max(1, rest))),
        severity: f.severity === 'error' ? 'error' : 'warning',
        message: [f.message, f.remedy].filter(Boolean).join(' '),
      };
    });
    editor.dispatch(setDiagnostics(editor.state, found));
  }, [faults, view]);

  useImperativeHandle(
    ref,
    () => ({
      write: (next) => {
        const editor = view.current;
        const now = editor?.state.doc.toString() ?? '';
        if (!editor || now === next) return;
        let from = 0;
        while (from < now.length && from < next.length && now[from] === next[from]) from++;
        let same = 0;
        while (same < now.length - from && same < next.length - from && now.at(-1 - same) === next.at(-1 - same))
          same++;
        editor.dispatch({ changes: { from, to: now.length - same, insert: next.slice(from, next.length - same) } });
      },
      go: (line, column) => {
        const editor = view.current;
        if (!editor) return;
        const at = editor.state.doc.line(Math.max(1, Math.min(editor.state.doc.lines, line)));
        const anchor = Math.min(at.to, at.from + column - 1);
        // What is looked for stands with what follows it, not on the last line that is seen.
        editor.dispatch({ selection: { anchor }, effects: EditorView.scrollIntoView(anchor, { y: 'center' }) });
        editor.focus();
      },
    }),
    [view],
  );

  return <div ref={place} style={{ height: '100%', minHeight: 0 }} />;
}

/** What the key under the pointer is for. */
function help(view: EditorView, at: number, words: Wording): Tooltip | null {
  const line = view.state.doc.lineAt(at);
  const on = at - line.from;
  const key = [...line.text.matchAll(/(?<=^\s*(?:- +)?|[{,]\s*)[a-z_]+(?=:)/g)].find(
    (k) => k.index <= on && on <= k.index + k[0].length,
  );
  if (!key) return null;
  const [from, end] = [line.from + key.index, line.from + key.index + key[0].length];
  const doc = words.help(view.state.doc.sliceString(0, line.from), line.text.slice(0, key.index), key[0]);
  if (!doc) return null;
  return {
    pos: from,
    end,
    create: () => {
      const dom = document.createElement('p');
      dom.textContent = doc;
      dom.style.cssText = 'max-width: 420px; margin: 0; padding: 6px 10px;';
      return { dom };
    },
  };
}

/** What is offered at the cursor. */
function offered(context: CompletionContext, words: Wording): CompletionResult | null {
  const word = context.matchBefore(/[A-Za-z0-9_.-]*/);
  if (!word || (word.from === word.to && !context.explicit)) return null;
  const line = context.state.doc.lineAt(context.pos);
  const above = context.state.doc.sliceString(0, line.from);
  const options = words.offers(above, line.text.slice(0, word.from - line.from));
  return options.length === 0 ? null : { from: word.from, options, validFor: /^[A-Za-z0-9_.-]*$/ };
}
