import { yaml } from '@codemirror/lang-yaml';
import { unifiedMergeView } from '@codemirror/merge';
import { EditorState } from '@codemirror/state';
import { EditorView, lineNumbers } from '@codemirror/view';
import { useEffect, useRef } from 'react';
import classes from './design.module.css';
import { editorLook } from './useEditor';

/** What one text has that another has not, line by line; what is the same is folded. */
export function Difference({ before, after, label }: { before: string; after: string; label: string }) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!place.current) return;
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: after,
        extensions: [
          lineNumbers(),
          yaml(),
          ...editorLook,
          EditorState.readOnly.of(true),
          EditorView.editable.of(false),
          EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
          unifiedMergeView({ original: before, mergeControls: false, collapseUnchanged: { margin: 3, minSize: 6 } }),
        ],
      }),
    });
    editor.scrollDOM.tabIndex = 0;
    return () => editor.destroy();
  }, [before, after, label]);
  return before === after ? (
    <p className="quiet">No difference.</p>
  ) : (
    <div ref={place} className={classes.difference} />
  );
}
