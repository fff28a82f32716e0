'use client';
import {
  autocompletion,
  startCompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, isolateHistory, undo } from '@codemirror/commands';
import {
  Annotation,
  EditorState,
  RangeSetBuilder,
  StateEffect,
  StateField,
  type Extension,
} from '@codemirror/state';
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
import type { KeptFile } from '@/core/media/kinds';
import { askServer } from './ask';
import { DATE_STYLE_WORDS, type DateStyle, type FieldForm } from '@/core/text/field-forms';
import { labelOf, neverEmpty, type MergeField } from '@/core/text/fields';
import { fitsGsm7 } from '@/core/text/gsm7';
import { swapsIn, type Swap } from '@/core/text/swaps';
import { fieldSource } from '@/core/text/template';
import { type Finding, type Place } from '@/core/wording/finding';
import { tokensOf } from '@/core/wording/reading';

/** A part of a chip that can be written in it: what it is, what it says now, and from what it is chosen. */
interface ChipPart {
  label: string;
  value: string;
  options?: readonly (readonly [value: string, words: string])[];
}

/** A merge field. A press on it lets one write in it how it reads, and what stands there where it is empty. */
class Chip extends WidgetType {
  constructor(
    readonly field: string,
    readonly fallback: string | null,
    readonly form: FieldForm | null,
  ) {
    super();
  }

  override eq(other: Chip): boolean {
    return this.#source() === other.#source();
  }

  #source(): string {
    return fieldSource(this.field, this.fallback, this.form);
  }

  toDOM(view: EditorView): HTMLElement {
    const node = document.createElement('span');
    node.className = 'chip';
    node.textContent = chipWords(this.field, this.fallback, this.form);
    if (neverEmpty(this.field) && this.form === null) return node;
    node.title = 'Press to write how it reads, and what stands here where it is empty';
    node.addEventListener('mousedown', (event) => {
      if (event.target !== node) return;
      event.preventDefault();
      this.#edit(view, node);
    });
    return node;
  }

  /** What happens in it is its own: the editor around it does not take its keys. */
  override ignoreEvent(): boolean {
    return true;
  }

  #parts(): ChipPart[] {
    const label = labelOf(this.field);
    const empty = { label: `If ${label} is empty, say`, value: this.fallback ?? '' };
    if (this.form === null) return [empty];
    if ('date' in this.form)
      return [{ label: 'As', value: this.form.date, options: Object.entries(DATE_STYLE_WORDS) }, empty];
    const { one, other } = this.form.count;
    return [{ label: 'Of one, say', value: one }, { label: 'Of several, say', value: other }, empty];
  }

  #edit(view: EditorView, node: HTMLElement): void {
    const parts = this.#parts();
    const controls = parts.map(controlOf);
    node.replaceChildren(
      `${labelOf(this.field)} `,
      ...controls.flatMap((control, i) => [i === parts.length - 1 ? ' or ' : i > 0 ? ' / ' : '', control]),
    );
    const first = controls[0]!;
    first.focus();
    if (first instanceof HTMLInputElement) first.select();
    let over = false;
    const end = (keep: boolean) => {
      if (over) return;
      over = true;
      const said = controls.map(({ value }) => value);
      node.textContent = chipWords(this.field, this.fallback, this.form);
      if (keep) this.#put(view, node, said);
      view.focus();
    };
    node.addEventListener('focusout', (event) => {
      if (!node.contains(event.relatedTarget as Node | null)) end(true);
    });
    node.addEventListener('keydown', (event) => {
      if (event.key !== 'Enter' && event.key !== 'Escape') return;
      event.preventDefault();
      event.stopPropagation();
      end(event.key === 'Enter');
    });
  }

  #put(view: EditorView, node: HTMLElement, said: readonly string[]): void {
    const at = view.posAtDOM(node);
    const token = tokensOf(view.state.doc.toString()).find(({ from }) => from === at);
    const insert = fieldSource(this.field, said.at(-1) || null, this.#formOf(said));
    if (!token || insert === this.#source()) return;
    view.dispatch({ changes: { from: token.from, to: token.to, insert }, annotations: OURS.of(true) });
  }

  #formOf([first = '', second = '']: readonly string[]): FieldForm | null {
    if (this.form === null) return null;
    return 'date' in this.form ? { date: first as DateStyle } : { count: { one: first, other: second } };
  }
}

function controlOf({ label, value, options }: ChipPart): HTMLInputElement | HTMLSelectElement {
  const control = document.createElement(options ? 'select' : 'input');
  control.className = 'chip-input';
  control.setAttribute('aria-label', label);
  for (const [one, words] of options ?? []) control.append(new Option(words, one));
  control.value = value;
  return control;
}

function chipWords(field: string, fallback: string | null, form: FieldForm | null): string {
  const label = labelOf(field);
  const reads =
    form === null
      ? label
      : 'date' in form
        ? `${label}, as ${DATE_STYLE_WORDS[form.date]}`
        : `${label}: … ${form.count.one} / … ${form.count.other}`;
  return fallback === null ? reads : `${reads} or “${fallback}”`;
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
  for (const { from, to, is } of tokensOf(view.state.doc.toString())) {
    const widget = 'char' in is ? new Plain(is.char) : new Chip(is.field, is.fallback, is.form);
    builder.add(from, to, Decoration.replace({ widget }));
  }
  return builder.finish();
}

/** Chips stand for stretches of the stored string and are passed and deleted whole. */
const chips: Extension = ViewPlugin.fromClass(
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

/** Characters that make the whole text dearer: those outside the alphabet a text is cheap in. */
function dearOnes(view: EditorView): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  const source = view.state.doc.toString();
  const tokens = tokensOf(source);
  let at = 0;
  for (const char of source) {
    const end = at + char.length;
    const inToken = tokens.some(({ from, to }) => at >= from && at < to);
    if (!inToken && !fitsGsm7(char)) builder.add(at, end, DEAR);
    at = end;
  }
  return builder.finish();
}

const DEAR = Decoration.mark({
  class: 'dear',
  attributes: { title: 'This character makes the whole text dearer: 70 instead of 160 to a part.' },
});

const dear = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;
    constructor(view: EditorView) {
      this.decorations = dearOnes(view);
    }
    update(update: ViewUpdate) {
      if (update.docChanged) this.decorations = dearOnes(update.view);
    }
  },
  { decorations: (plugin) => plugin.decorations },
);

/**
 * What is pasted comes in as it is, and its look-alikes are swapped in a second step: undoing takes back just that.
 * Invisible marks go with them.
 */
const cleanPaste = (told: (swaps: readonly Swap[]) => void): Extension =>
  EditorView.updateListener.of((update) => {
    const pasted = update.transactions.find((one) => one.isUserEvent('input.paste'));
    if (!pasted) return;
    const swaps: (Swap & { at: number })[] = [];
    pasted.changes.iterChanges((_from, _to, start, _end, inserted) => {
      for (const swap of swapsIn(inserted.toString())) swaps.push({ ...swap, at: start + swap.index });
    });
    if (swaps.length === 0) return;
    const changes = swaps.map(({ at, from, to }) => ({ from: at, to: at + from.length, insert: to }));
    update.view.dispatch({ changes, annotations: [OURS.of(true), isolateHistory.of('full')] });
    told(swaps);
  });

/** A text that is kept to be written again. */
export interface EditorTemplate {
  id: string;
  name: string;
  folder: string;
  subject: string | null;
  body: string;
}

/** Something to write about, with what a text can say of it. */
export interface EditorItem {
  number: string;
  name: string;
  when: string;
  /** Why it should not be written about now; null: it can be. */
  against: string | null;
  /** What goes in, as it is stored, by what it is; the first is what is usual. */
  says: { label: string; source: string }[];
  /** Its picture. */
  file: KeptFile | null;
}

/** What it says is put in where the hash and what follows it stand. */
const putIn =
  (source: string, then: () => void = () => {}): NonNullable<Completion['apply']> =>
  (view: EditorView, _completion: Completion, from: number, to: number) => {
    view.dispatch({
      changes: { from, to, insert: source },
      selection: { anchor: from + source.length },
      annotations: OURS.of(true),
    });
    then();
  };

/** Things to write about, by a part of their name or number behind a hash where a word begins. */
const hashItems =
  (told: (item: EditorItem) => void) =>
  async (context: CompletionContext): Promise<CompletionResult | null> => {
    const typed = context.matchBefore(/(?<=^|\s)#[^\n#]{0,40}/);
    if (!typed) return null;
    const found = await askServer<{ items: EditorItem[] }>('/internal/items', {
      called: typed.text.slice(1),
    }).catch(() => null);
    if (!found || context.aborted) return null;
    const one = found.items.length === 1;
    return {
      from: typed.from,
      filter: false,
      options: found.items.flatMap((item) =>
        (one ? item.says : item.says.slice(0, 1)).map(({ label, source }, i) => ({
          label: `#${item.number} ${i}`,
          displayLabel: i === 0 ? `${item.number} ${item.name}` : label,
          detail: i === 0 ? (item.against ?? item.when) : '',
          apply: putIn(source, () => i === 0 && told(item)),
        })),
      ),
    };
  };

/** Templates are asked for when somebody types a slash where a word begins, things to write about by a hash. */
const completions = (
  told: (template: EditorTemplate) => void,
  toldItem: (item: EditorItem) => void,
): Extension =>
  autocompletion({
    icons: false,
    activateOnTyping: true,
    // Whoever typed a slash means the list: its first line is taken as soon as it stands there.
    interactionDelay: 0,
    override: [
      hashItems(toldItem),
      async (context: CompletionContext): Promise<CompletionResult | null> => {
        const typed = context.matchBefore(/(?<=^|\s)\/[^\s/]*/);
        if (!typed) return null;
        const templates = await askServer<{ items: EditorTemplate[] }>('/internal/templates', {}).catch(
          () => null,
        );
        if (!templates || context.aborted) return null;
        return {
          from: typed.from,
          validFor: /^\/[^\s/]*$/,
          options: templates.items.map((template) => ({
            label: `/${template.name}`,
            displayLabel: template.name,
            ...(template.folder === '' ? {} : { detail: template.folder }),
            apply: putIn(template.body, () => told(template)),
          })),
        };
      },
    ],
  });

const setFindings = StateEffect.define<readonly Finding[]>();

/** The places of what is wrong, marked until the text is checked anew. */
const marked = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    const told = transaction.effects.find((effect) => effect.is(setFindings));
    if (!told) return marks.map(transaction.changes);
    const { length } = transaction.state.doc;
    const ranges = (told.value as readonly Finding[]).flatMap(({ severity, place, message }) =>
      place && place.from < place.to && place.to <= length
        ? [
            Decoration.mark({ class: `found found-${severity}`, attributes: { title: message } }).range(
              place.from,
              place.to,
            ),
          ]
        : [],
    );
    return Decoration.set(ranges, true);
  },
  provide: (field) => EditorView.decorations.from(field),
});

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
  insertField(field: Pick<MergeField, 'name' | 'fallback' | 'form'>): void;
  /** Puts words in where the cursor is. */
  insert(words: string): void;
  /** Types the slash that opens the templates, or the hash that opens things to write about. */
  open(sign: '/' | '#'): void;
  undo(): void;
  replace(source: string): void;
  /** Selects a stretch of the stored text. */
  show(place: Place): void;
  focus(): void;
}

interface Props {
  initial: string;
  onChange(source: string): void;
  labelledBy: string;
  /** What is wrong with it: its places are marked. */
  findings?: readonly Finding[];
  /** It goes as a text: characters that make it dearer are marked. */
  counts?: boolean;
  /** Look-alikes of what was pasted were swapped. */
  onSwapped?(swaps: readonly Swap[]): void;
  /** A template was put in. */
  onTemplate?(template: EditorTemplate): void;
  /** Something to write about was put in. */
  onItem?(item: EditorItem): void;
  ref?: Ref<EditorHandle>;
}

const NONE: readonly Finding[] = [];

/** The text of a broadcast. The document is the stored string itself; merge fields show as chips. */
export function TextEditor({
  initial,
  onChange,
  labelledBy,
  findings = NONE,
  counts = false,
  onSwapped,
  onTemplate,
  onItem,
  ref,
}: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef({ onChange, onSwapped, onTemplate, onItem });
  useEffect(() => {
    latest.current = { onChange, onSwapped, onTemplate, onItem };
  }, [onChange, onSwapped, onTemplate, onItem]);
  useEffect(() => {
    const extensions: Extension[] = [
      history(),
      // Before the other keys: its own come first while the list is open.
      completions(
        (template) => latest.current.onTemplate?.(template),
        (item) => latest.current.onItem?.(item),
      ),
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
      ...(counts ? [dear] : []),
      marked,
      EditorView.updateListener.of((update) => {
        if (update.docChanged) latest.current.onChange(update.state.doc.toString());
      }),
      // After it: what was swapped is told last, when nothing that was typed takes it back.
      cleanPaste((swaps) => latest.current.onSwapped?.(swaps)),
    ];
    const made = new EditorView({
      parent: host.current!,
      state: EditorState.create({ doc: initial, extensions }),
    });
    view.current = made;
    return () => made.destroy();
    // The editor keeps its own document: a new initial text does not replace what is being written.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [labelledBy, counts]);
  useEffect(() => view.current?.dispatch({ effects: setFindings.of(findings) }), [findings]);
  useImperativeHandle(ref, () => ({
    insertField({ name, fallback, form = null }) {
      const editor = view.current!;
      const insert = fieldSource(name, fallback, form);
      const { from, to } = editor.state.selection.main;
      editor.dispatch({
        changes: { from, to, insert },
        selection: { anchor: from + insert.length },
        annotations: OURS.of(true),
      });
      editor.focus();
    },
    insert(words) {
      const editor = view.current!;
      editor.dispatch(editor.state.replaceSelection(words));
      editor.focus();
    },
    open(sign) {
      const editor = view.current!;
      editor.focus();
      const { from, to } = editor.state.selection.main;
      const before = editor.state.sliceDoc(Math.max(0, from - 1), from);
      const insert = before === '' || /\s/.test(before) ? sign : ` ${sign}`;
      editor.dispatch({
        changes: { from, to, insert },
        selection: { anchor: from + insert.length },
        userEvent: 'input.type',
      });
      startCompletion(editor);
    },
    undo() {
      undo(view.current!);
      view.current!.focus();
    },
    replace(source) {
      const editor = view.current!;
      editor.dispatch({
        changes: { from: 0, to: editor.state.doc.length, insert: source },
        annotations: OURS.of(true),
      });
    },
    show({ from, to }) {
      const editor = view.current!;
      const { length } = editor.state.doc;
      if (to > length) return;
      editor.dispatch({ selection: { anchor: from, head: to }, scrollIntoView: true });
      editor.focus();
    },
    focus: () => view.current?.focus(),
  }));
  return <div ref={host} />;
}
