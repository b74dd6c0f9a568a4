import { completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorState, type Extension } from '@codemirror/state';
import { EditorView, keymap } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { useEffect, useRef } from 'react';

const look = HighlightStyle.define([
  {
    tag: [tags.definition(tags.propertyName), tags.propertyName, tags.keyword],
    color: 'var(--accent)',
    fontWeight: '600',
  },
  { tag: [tags.string, tags.special(tags.string), tags.number], color: 'var(--warning)' },
  { tag: tags.comment, color: 'var(--quiet)', fontStyle: 'italic' },
]);

/** How editors look, those that show a difference too. */
export const editorLook = [
  syntaxHighlighting(look),
  EditorView.theme({
    '&': { fontSize: 'calc(13px * var(--scale))', background: 'var(--surface)', color: 'var(--ink)', height: '100%' },
    '&.cm-focused': { outline: '1px solid var(--accent)' },
    '.cm-content': { caretColor: 'var(--ink)' },
    '.cm-cursor': { borderLeftColor: 'var(--ink)' },
    '.cm-gutters': { background: 'var(--page)', border: '0', color: 'var(--quiet)' },
    '.cm-tooltip': { background: 'var(--surface)', color: 'var(--ink)', border: '1px solid var(--hairline)' },
    '.cm-tooltip-autocomplete ul li[aria-selected]': { background: 'var(--tint)', color: 'var(--ink)' },
    '.cm-collapsedLines': { background: 'var(--page) !important', color: 'var(--quiet) !important' },
    '.cm-collapsedLines:before, .cm-collapsedLines:after': { content: "'…' !important" },
    '.cm-selectionBackground, &.cm-focused .cm-selectionBackground': { background: 'var(--tint) !important' },
  }),
];

/**
 * A text editor in a place of the page, with the keys and the look that all of them have.
 * @param text What it opens with.
 * @param onChange Hears of what is typed, and whether that takes back or brings back what was typed before.
 * @param own What this one has besides; made once.
 */
export function useEditor(
  label: string,
  text: string,
  onChange: (text: string, isBack: boolean) => void,
  own: () => Extension[],
) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const told = useRef(onChange);
  told.current = onChange;
  const opening = useRef({ text, own });
  useEffect(() => {
    if (!place.current) return;
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: opening.current.text,
        extensions: [
          history(),
          ...opening.current.own(),
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap]),
          ...editorLook,
          EditorView.contentAttributes.of({ 'aria-label': label }),
          EditorView.updateListener.of((u) => {
            const isBack = u.transactions.some((t) => t.isUserEvent('undo') || t.isUserEvent('redo'));
            if (u.docChanged) told.current(u.state.doc.toString(), isBack);
          }),
        ],
      }),
    });
    // What scrolls can be reached and scrolled by keys alone.
    editor.scrollDOM.tabIndex = 0;
    view.current = editor;
    return () => editor.destroy();
  }, [label]);
  return { place, view };
}
