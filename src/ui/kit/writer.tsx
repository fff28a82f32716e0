'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useId, useImperativeHandle, useMemo, useRef, useState, type Ref } from 'react';
import { labelOf, neverEmpty, type MergeField } from '@/core/text/fields';
import { measure } from '@/core/text/measure';
import type { Swap } from '@/core/text/swaps';
import { fieldSource, parseTemplate } from '@/core/text/template';
import type { Finding } from '@/core/wording/finding';
import { tokensOf, withFallbacks } from '@/core/wording/reading';
import { mended } from '@/core/wording/check';
import { Findings } from './findings';
import { useFindings, type Checked } from './use-findings';
import { EmojiPicker } from './emoji-picker';
import { count, plural } from './numbers';
import { Problem } from './problem';
import { TextEditor, type EditorHandle, type EditorItem, type EditorTemplate } from './text-editor';

interface Props {
  label: string;
  initial: string;
  /** What stands in the editor now. */
  value: string;
  onChange(source: string): void;
  fields: readonly MergeField[];
  /** It goes as a text: characters and parts are counted. */
  counts: boolean;
  /** What is wrong with it, where somebody else shows it. */
  findings?: readonly Finding[];
  /** What it is of: then it is checked here, and what is found stands below. */
  checked?: Checked;
  problem?: string | null | undefined;
  /** A template was put in. */
  onTemplate?(template: EditorTemplate): void;
  /** Something to write about was put in. */
  onItem?(item: EditorItem): void;
  ref?: Ref<EditorHandle>;
}

/** The one editor for everything that is written. */
export function Writer({
  label,
  initial,
  value,
  onChange,
  fields,
  counts,
  findings,
  checked,
  problem,
  onTemplate,
  onItem,
  ref,
}: Props) {
  const id = useId();
  const editor = useRef<EditorHandle>(null);
  const [swapped, setSwapped] = useState<readonly Swap[]>([]);
  const own = useFindings(value, checked ?? null);
  useImperativeHandle(ref, () => editor.current!);
  return (
    <div>
      <div id={id} className="mb-1 text-sm text-soft">
        {label}
      </div>
      <TextEditor
        ref={editor}
        labelledBy={id}
        {...{ initial, counts }}
        findings={findings ?? own}
        onChange={(source) => (setSwapped([]), onChange(source))}
        onSwapped={setSwapped}
        {...(onTemplate ? { onTemplate } : {})}
        {...(onItem ? { onItem } : {})}
      />
      <div className="mt-1 flex flex-wrap items-baseline justify-between gap-x-4 text-sm text-soft">
        <span>{counts && <Count source={value} />}</span>
        {value !== initial && (
          <button type="button" className="link" onClick={() => editor.current?.undo()}>
            Undo
          </button>
        )}
      </div>
      {swapped.length > 0 && (
        <p role="status" className="mt-1 border-l-2 border-accent pl-3 text-sm">
          {plural(swapped.length, 'character')} of what you pasted {swapped.length === 1 ? 'was' : 'were'}{' '}
          swapped for plain ones ({[...new Set(swapped.map(({ name }) => name))].join(', ')}).{' '}
          <button type="button" className="link" onClick={() => (editor.current?.undo(), setSwapped([]))}>
            Put them back
          </button>
        </p>
      )}
      <Problem>{problem}</Problem>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <span className="text-sm text-soft">Put in</span>
        {fields.slice(0, SHOWN).map((field) => (
          <FieldButton key={field.name} field={field} editor={editor} />
        ))}
        {fields.length > SHOWN && (
          <Popover className="relative">
            <PopoverButton className="button px-2 py-0.5 text-sm">your fields</PopoverButton>
            <PopoverPanel
              anchor="bottom start"
              className="z-20 mt-1 flex max-h-72 max-w-md flex-wrap gap-2 overflow-y-auto border border-soft bg-paper p-3"
            >
              {fields.slice(SHOWN).map((field) => (
                <FieldButton key={field.name} field={field} editor={editor} />
              ))}
            </PopoverPanel>
          </Popover>
        )}
        <button
          type="button"
          className="button px-2 py-0.5 text-sm"
          title="A template: type / where a word begins"
          onClick={() => editor.current?.open('/')}
        >
          template <kbd className="text-soft">/</kbd>
        </button>
        <button
          type="button"
          className="button px-2 py-0.5 text-sm"
          title="An event, tour or article: type # and a part of its name or number"
          onClick={() => editor.current?.open('#')}
        >
          what is on <kbd className="text-soft">#</kbd>
        </button>
        <EmojiPicker onPick={(emoji) => editor.current?.insert(emoji)} />
      </div>
      {own.length > 0 && (
        <div className="mt-2" aria-live="polite">
          <Findings
            findings={own}
            onShow={(place) => editor.current?.show(place)}
            onMend={(mending) => editor.current?.replace(mended(value, mending))}
          />
        </div>
      )}
      <Fallbacks id={id} source={value} onChange={(source) => editor.current?.replace(source)} />
    </div>
  );
}

function FieldButton({ field, editor }: { field: MergeField; editor: React.RefObject<EditorHandle | null> }) {
  return (
    <button
      type="button"
      className="button px-2 py-0.5 text-sm"
      onClick={() => editor.current?.insertField(field)}
    >
      {field.label}
    </button>
  );
}

/** Fields that stand there at once; the rest is a press away. */
const SHOWN = 7;

/** How long it is as it stands, with the fallbacks in the place of fields. */
function Count({ source }: { source: string }) {
  const text = withFallbacks(source);
  const { alphabet, parts, unitsLeft, outside } = measure(text);
  if (parts === 0) return null;
  return (
    <>
      {plural([...text].length, 'character')}, {plural(parts, 'part')}, {alphabet}
      {outside.length > 0 && ` because of ${outside.slice(0, 6).join(' ')}`}; {count(unitsLeft)} left in the
      last part
    </>
  );
}

/** What to say where a field is empty, for every field in the text. */
function Fallbacks({ id, source, onChange }: { id: string; source: string; onChange(source: string): void }) {
  const template = useMemo(() => parseTemplate(source), [source]);
  const fields = template.ok ? template.value.fields.filter(({ name }) => !neverEmpty(name)) : [];
  if (fields.length === 0) return null;
  return (
    <ul className="mt-3">
      {fields.map(({ name, fallback }) => (
        <li key={name} className="flex flex-wrap items-center gap-2 py-0.5 text-sm">
          <label className="flex items-center gap-2">
            <span className="text-soft">If {labelOf(name)} is empty, say</span>
            <input
              id={`${id}${name}`}
              className="input w-44! py-0.5!"
              value={fallback ?? ''}
              onChange={(event) => onChange(withFallback(source, name, event.target.value))}
            />
          </label>
          {fallback === null && <span className="text-soft">(it goes to nobody without it)</span>}
        </li>
      ))}
    </ul>
  );
}

/** The same words stand wherever the field does. */
const withFallback = (source: string, name: string, fallback: string): string =>
  tokensOf(source).reduceRight(
    (text, { from, to, is }) =>
      'field' in is && is.field === name
        ? text.slice(0, from) + fieldSource(name, fallback === '' ? null : fallback, is.form) + text.slice(to)
        : text,
    source,
  );
