/** The editor itself, loaded where a text is written: a document of lines of plain text with merge fields in it. */
import { Editor, Extension, Node } from '@tiptap/core';
import { Document } from '@tiptap/extension-document';
import { Paragraph } from '@tiptap/extension-paragraph';
import { Text } from '@tiptap/extension-text';
import { UndoRedo } from '@tiptap/extensions/undo-redo';
import { Fragment, Slice, type Node as DocNode, type Schema } from '@tiptap/pm/model';
import { MERGE_FIELDS, parseMerge, takesFallback, type MergeField } from '@long-gate/core';

/** A merge field in the text: where it stands, and what it says where a contact has none. */
export interface FieldAt {
  at: number;
  name: string;
  fallback: string;
}

export const labelOf = (name: string): string => (name in MERGE_FIELDS ? MERGE_FIELDS[name as MergeField] : name);

/** The one inline node: a field of the contact, with its fallback. */
const MergeFieldNode = Node.create({
  name: 'field',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ name: { default: '' }, fallback: { default: '' } }),
  parseHTML: () => [],
  renderHTML({ node }) {
    const { name, fallback } = node.attrs as { name: string; fallback: string };
    if (!takesFallback(name)) return ['span', { class: 'merge', title: 'About this link' }, labelOf(name)];
    const words = fallback ? `${labelOf(name)}, else “${fallback}”` : `${labelOf(name)}, no fallback`;
    return ['span', { class: fallback ? 'merge' : 'merge lacks', title: 'Change the fallback' }, words];
  },
});

const lineOf = (schema: Schema, line: string): DocNode =>
  schema.nodes['paragraph']!.create(
    null,
    parseMerge(line).map((p) =>
      p.kind === 'text'
        ? schema.text(p.text)
        : schema.nodes['field']!.create({ name: p.name, fallback: p.fallback ?? '' }),
    ),
  );
const lines = (schema: Schema, text: string): DocNode[] =>
  text
    .replace(/\r\n?/g, '\n')
    .split('\n')
    .map((line) => lineOf(schema, line));

/** The written form of what stands in a document, such as `Hello [firstName|friend]`. */
export function writtenOf(doc: { forEach: (f: (line: DocNode) => void) => void }): string {
  const out: string[] = [];
  doc.forEach((line) => {
    let text = '';
    line.forEach((n) => {
      const { name, fallback } = n.attrs as { name?: string; fallback?: string };
      if (n.isText) text += (n.text ?? '').replaceAll('\u00a0', ' ');
      else if (name) text += fallback ? `[${name}|${fallback}]` : `[${name}]`;
    });
    out.push(text);
  });
  return out.join('\n');
}

export interface Editing {
  editor: Editor;
  /** Puts another text in place of this one; it is not told as written. */
  show(text: string): void;
  /** Puts a merge field where the caret is. */
  insertField(name: MergeField): void;
  insertText(text: string): void;
  /** Another fallback for a field; without brackets and bars, which the written form is made of. */
  setFallback(field: FieldAt, fallback: string): void;
  remove(field: FieldAt): void;
  destroy(): void;
}

/** @param on.written what stands there now; `on.field` a field was opened by mouse or key. */
export function edit(
  element: HTMLElement,
  text: string,
  editable: boolean,
  on: { written: (text: string) => void; field: (field: FieldAt) => void },
): Editing {
  const fieldAt = (doc: DocNode, at: number): FieldAt | null => {
    const node = doc.nodeAt(at);
    if (node?.type.name !== 'field') return null;
    const { name, fallback } = node.attrs as { name: string; fallback: string };
    return { at, name, fallback };
  };
  const Fields = Extension.create({
    name: 'fields',
    addKeyboardShortcuts: () => ({
      Enter: ({ editor }) => {
        const { selection, doc } = editor.state;
        const field = selection.empty ? null : fieldAt(doc, selection.from);
        if (field && selection.to === selection.from + 1) {
          on.field(field);
          return true;
        }
        return false;
      },
    }),
  });
  const editor = new Editor({
    element,
    editable,
    // The page's content policy lets no styles in that it does not know; ours stand with the component.
    injectCSS: false,
    extensions: [Document, Paragraph, Text, MergeFieldNode, UndoRedo, Fields],
    enablePasteRules: false,
    enableInputRules: false,
    editorProps: {
      attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': 'Text', class: 'sheet' },
      // Whatever it comes from, it is taken as plain text; fields in their written form become fields.
      handlePaste: (view, event) => {
        const pasted = event.clipboardData?.getData('text/plain') ?? '';
        if (pasted === '') return false;
        const slice = new Slice(Fragment.from(lines(view.state.schema, pasted)), 1, 1);
        view.dispatch(view.state.tr.replaceSelection(slice).scrollIntoView());
        return true;
      },
      clipboardTextSerializer: (slice) => writtenOf(slice.content),
      handleClickOn: (_view, _pos, node, at) => {
        if (node.type.name !== 'field' || !editor.isEditable) return false;
        on.field({ at, ...(node.attrs as { name: string; fallback: string }) });
        return true;
      },
    },
    onUpdate: ({ editor: e }) => {
      on.written(writtenOf(e.state.doc));
    },
  });
  const show = (now: string): void => {
    const { schema, doc, tr } = editor.state;
    editor.view.dispatch(
      tr
        .replaceWith(0, doc.content.size, lines(schema, now))
        .setMeta('preventUpdate', true)
        .setMeta('addToHistory', false),
    );
  };
  show(text);
  return {
    editor,
    show,
    insertField(name) {
      const at = editor.state.selection.from;
      editor
        .chain()
        .focus()
        .insertContent({ type: 'field', attrs: { name, fallback: '' } })
        .run();
      if (!takesFallback(name)) return;
      // The line may have begun anew: the field is the last one before the caret.
      for (let i = editor.state.selection.from; i >= Math.max(0, at - 1); i--) {
        const field = fieldAt(editor.state.doc, i);
        if (field) {
          on.field(field);
          return;
        }
      }
    },
    insertText(words) {
      const { tr, selection } = editor.state;
      editor.view.dispatch(tr.insertText(words, selection.from, selection.to).scrollIntoView());
      editor.view.focus();
    },
    setFallback(field, fallback) {
      if (!fieldAt(editor.state.doc, field.at)) return;
      const attrs = { name: field.name, fallback: fallback.replace(/[\][|]/g, '').trim() };
      editor.view.dispatch(editor.state.tr.setNodeMarkup(field.at, null, attrs));
    },
    remove(field) {
      if (fieldAt(editor.state.doc, field.at)) editor.view.dispatch(editor.state.tr.delete(field.at, field.at + 1));
    },
    destroy: () => {
      editor.destroy();
    },
  };
}
