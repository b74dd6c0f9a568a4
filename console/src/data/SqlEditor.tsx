import { autocompletion } from '@codemirror/autocomplete';
import { MariaSQL, PostgreSQL, SQLite, StandardSQL, sql } from '@codemirror/lang-sql';
import { bracketMatching } from '@codemirror/language';
import { Compartment } from '@codemirror/state';
import { EditorView, lineNumbers } from '@codemirror/view';
import { type Ref, useEffect, useImperativeHandle, useRef } from 'react';
import { useEditor } from '../design/useEditor';

/** What is done to the text from beside it. */
export interface SqlWriting {
  /** Writes a name where the cursor stands. */
  write: (name: string) => void;
}

interface Props {
  ref?: Ref<SqlWriting>;
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

/** An editor for one SELECT, with completion of tables and columns. */
export default function SqlEditor({ ref, value, engine, schema, first, onChange }: Props) {
  const language = useRef(new Compartment());
  const { place, view } = useEditor('SQL', value, onChange, () => [
    lineNumbers(),
    bracketMatching(),
    autocompletion(),
    language.current.of(sql()),
    EditorView.lineWrapping,
    EditorView.theme({
      '&': { border: '1px solid var(--hairline)', borderRadius: '6px' },
      '.cm-content': { minHeight: '140px' },
    }),
  ]);

  useEffect(() => {
    view.current?.dispatch({
      effects: language.current.reconfigure(
        sql({ dialect: dialects[engine] ?? StandardSQL, schema, defaultTable: first, upperCaseKeywords: true }),
      ),
    });
  }, [engine, schema, first, view]);

  useImperativeHandle(ref, () => ({
    write: (name) => {
      const editor = view.current;
      if (!editor) return;
      const { from, to } = editor.state.selection.main;
      const before = editor.state.sliceDoc(Math.max(0, from - 1), from);
      const text = before && !/[\s.(,]/.test(before) ? ` ${name}` : name;
      editor.dispatch({ changes: { from, to, insert: text }, selection: { anchor: from + text.length } });
      editor.focus();
    },
  }));

  return <div ref={place} />;
}
