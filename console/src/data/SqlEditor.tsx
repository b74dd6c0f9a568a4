import { autocompletion, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { MariaSQL, PostgreSQL, SQLite, StandardSQL, sql } from '@codemirror/lang-sql';
import { bracketMatching, HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { Compartment, EditorState } from '@codemirror/state';
import { EditorView, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { useEffect, useRef } from 'react';

interface Props {
  value: string;
  engine: string;
  /** Columns by table, for completion. */
  schema: Record<string, string[]>;
  /** The table whose columns are offered without its name before them. */
  first?: string;
  onChange: (text: string) => void;
}

const dialects: Record<string, typeof StandardSQL> = {
  postgresql: PostgreSQL,
  mariadb: MariaSQL,
  mysql: MariaSQL,
  sqlite: SQLite,
};

const look = HighlightStyle.define([
  { tag: tags.keyword, color: 'var(--accent)', fontWeight: '600' },
  { tag: [tags.string, tags.special(tags.string)], color: 'var(--warning)' },
  { tag: tags.number, color: 'var(--warning)' },
  { tag: tags.comment, color: 'var(--quiet)', fontStyle: 'italic' },
]);

/** An editor for one SELECT, with completion of tables and columns. */
export default function SqlEditor({ value, engine, schema, first, onChange }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const language = useRef(new Compartment());
  const told = useRef(onChange);
  told.current = onChange;
  const opening = useRef(value);

  useEffect(() => {
    if (!place.current) return;
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: opening.current,
        extensions: [
          lineNumbers(),
          history(),
          bracketMatching(),
          autocompletion(),
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap]),
          language.current.of(sql()),
          syntaxHighlighting(look),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': 'SQL' }),
          EditorView.updateListener.of((u) => u.docChanged && told.current(u.state.doc.toString())),
          EditorView.theme({
            '&': {
              fontSize: '13px',
              border: '1px solid var(--hairline)',
              borderRadius: '6px',
              background: 'var(--surface)',
            },
            '.cm-content': { minHeight: '140px' },
            '.cm-gutters': { background: 'var(--page)', border: '0', color: 'var(--quiet)' },
          }),
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, []);

  useEffect(() => {
    view.current?.dispatch({
      effects: language.current.reconfigure(
        sql({ dialect: dialects[engine] ?? StandardSQL, schema, defaultTable: first, upperCaseKeywords: true }),
      ),
    });
  }, [engine, schema, first]);

  return <div ref={place} />;
}
