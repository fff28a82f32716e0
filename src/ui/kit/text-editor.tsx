'use client';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { Annotation, EditorState, RangeSetBuilder, type Extension } from '@codemirror/state';
import {
  Decoration,
  EditorView,
  keymap,
  placeholder,
  ViewPlugin,
  WidgetType,
  type DecorationSet,
  type ViewUpdate,
} from '@codemirror/view';
import { useEffect, useImperativeHandle, useRef, type Ref } from 'react';
import { labelOf } from '@/core/text/fields';
import { fieldSource } from '@/core/text/template';

/** A merge field as it stands in the source, or an escaped character. */
const TOKENS =
  /\{\$([\w.]+)(?: :wren:field(?: fallback=(?:\|((?:[^|\\]|\\.)*)\||([^\s}]+)))?)?\}|\\([{}\\|])/g;

class Chip extends WidgetType {
  constructor(
    readonly label: string,
    readonly fallback: string | null,
  ) {
    super();
  }

  override eq(other: Chip): boolean {
    return other.label === this.label && other.fallback === this.fallback;
  }

  toDOM(): HTMLElement {
    const node = document.createElement('span');
    node.className = 'chip';
    node.textContent = this.fallback === null ? this.label : `${this.label} or “${this.fallback}”`;
    return node;
  }
}

class Plain extends WidgetType {
  constructor(readonly char: string) {
    super();
  }

  override eq(other: Plain): boolean {
    return other.char === this.char;
  }

  toDOM(): HTMLElement {
    const node = document.createElement('span');
    node.textContent = this.char;
    return node;
  }
}

function decorate(view: EditorView): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  const source = view.state.doc.toString();
  for (const match of source.matchAll(TOKENS)) {
    const fallback = match[2]?.replace(/\\(.)/g, '$1') ?? match[3] ?? null;
    const widget = match[4] ? new Plain(match[4]) : new Chip(labelOf(match[1]!), fallback);
    builder.add(match.index, match.index + match[0].length, Decoration.replace({ widget }));
  }
  return builder.finish();
}

/** Chips stand for stretches of the stored string and are passed and deleted whole. */
const chips = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;
    constructor(view: EditorView) {
      this.decorations = decorate(view);
    }
    update(update: ViewUpdate) {
      if (update.docChanged) this.decorations = decorate(update.view);
    }
  },
  {
    decorations: (plugin) => plugin.decorations,
    provide: (plugin) =>
      EditorView.atomicRanges.of((view) => view.plugin(plugin)?.decorations ?? Decoration.none),
  },
);

const OURS = Annotation.define<boolean>();

/** Braces and backslashes that are typed or pasted are meant as characters. */
const escapeTyped = EditorState.transactionFilter.of((transaction) => {
  if (!transaction.isUserEvent('input') || transaction.annotation(OURS)) return transaction;
  const changes: { from: number; to: number; insert: string }[] = [];
  let found = false;
  transaction.changes.iterChanges((from, to, _a, _b, inserted) => {
    const text = inserted.toString();
    const escaped = text.replace(/[\\{}]/g, (char) => `\\${char}`);
    found ||= escaped !== text;
    changes.push({ from, to, insert: escaped });
  });
  if (!found) return transaction;
  const last = changes[changes.length - 1]!;
  return [
    {
      changes,
      selection: { anchor: last.from + last.insert.length },
      annotations: OURS.of(true),
      userEvent: 'input',
    },
  ];
});

export interface EditorHandle {
  insertField(name: string, fallback: string | null): void;
  replace(source: string): void;
  focus(): void;
}

interface Props {
  initial: string;
  onChange(source: string): void;
  labelledBy: string;
  ref?: Ref<EditorHandle>;
}

/** The text of a broadcast. The document is the stored string itself; merge fields show as chips. */
export function TextEditor({ initial, onChange, labelledBy, ref }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latestOnChange = useRef(onChange);
  useEffect(() => {
    latestOnChange.current = onChange;
  }, [onChange]);
  useEffect(() => {
    const extensions: Extension[] = [
      history(),
      keymap.of([...defaultKeymap, ...historyKeymap]),
      EditorView.lineWrapping,
      EditorView.contentAttributes.of({
        'aria-labelledby': labelledBy,
        role: 'textbox',
        'aria-multiline': 'true',
        spellcheck: 'true',
      }),
      placeholder('Hi, Saturn is up tonight …'),
      escapeTyped,
      chips,
      EditorView.updateListener.of((update) => {
        if (update.docChanged) latestOnChange.current(update.state.doc.toString());
      }),
    ];
    const made = new EditorView({
      parent: host.current!,
      state: EditorState.create({ doc: initial, extensions }),
    });
    view.current = made;
    return () => made.destroy();
    // The editor keeps its own document: a new initial text does not replace what is being written.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [labelledBy]);
  useImperativeHandle(ref, () => ({
    insertField(name, fallback) {
      const editor = view.current!;
      const insert = fieldSource(name, fallback);
      const { from, to } = editor.state.selection.main;
      editor.dispatch({
        changes: { from, to, insert },
        selection: { anchor: from + insert.length },
        annotations: OURS.of(true),
      });
      editor.focus();
    },
    replace(source) {
      const editor = view.current!;
      editor.dispatch({
        changes: { from: 0, to: editor.state.doc.length, insert: source },
        annotations: OURS.of(true),
      });
    },
    focus: () => view.current?.focus(),
  }));
  return <div ref={host} />;
}
