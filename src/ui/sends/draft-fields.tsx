'use client';
import { useCallback, useMemo } from 'react';
import { CHANNELS, CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { labelOf, MERGE_FIELDS } from '@/core/text/fields';
import { fieldSource, parseTemplate } from '@/core/text/template';
import type { Finding } from '@/core/wording/finding';
import { Problem } from '@/ui/kit/problem';
import { TextEditor, type EditorHandle } from '@/ui/kit/text-editor';
import { type DraftProps, type DraftValues } from './draft-values';

/** Its subject, its text, and the fields that are put into it. */
export function Writing({
  id,
  initial,
  values,
  set,
  editor,
  problemOf,
  complaint,
  findings,
}: {
  /** What is wrong with the text, for its places. */
  findings: readonly Finding[];
  id: string;
  initial: string;
  values: DraftValues;
  set(part: Partial<DraftValues>): void;
  editor: React.RefObject<EditorHandle | null>;
  problemOf(field: string): string | undefined;
  complaint: string | null;
}) {
  const letter = values.channel === 'email';
  return (
    <>
      {letter && (
        <div className="mb-4">
          <Labelled id={`${id}s`} label="Subject" problem={problemOf('subject')}>
            <input
              id={`${id}s`}
              className="input"
              value={values.subject}
              maxLength={300}
              onChange={(event) => set({ subject: event.target.value })}
            />
          </Labelled>
        </div>
      )}
      <div id={`${id}b`} className="mb-1 text-sm text-soft">
        {letter ? 'Letter' : 'Text'}
      </div>
      <TextEditor
        ref={editor}
        initial={initial}
        labelledBy={`${id}b`}
        findings={findings}
        onChange={(body) => set({ body })}
      />
      <Problem>{problemOf('body') ?? complaint}</Problem>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <span className="text-sm text-soft">Put in</span>
        {MERGE_FIELDS.map(({ name, label, fallback }) => (
          <button
            key={name}
            type="button"
            className="button px-2 py-0.5 text-sm"
            onClick={() => editor.current?.insertField(name, fallback)}
          >
            {label}
          </button>
        ))}
      </div>
      <Fallbacks body={values.body} onChange={(body) => editor.current?.replace(body)} />
    </>
  );
}

function Labelled({
  id,
  label,
  problem,
  children,
}: {
  id: string;
  label: string;
  problem: string | undefined;
  children: React.ReactNode;
}) {
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-sm text-soft">
        {label}
      </label>
      {children}
      <Problem>{problem}</Problem>
    </div>
  );
}

/** What to say where a field is empty, for every field in the text. */
function Fallbacks({ body, onChange }: { body: string; onChange(body: string): void }) {
  const template = useMemo(() => parseTemplate(body), [body]);
  const change = useCallback(
    (name: string, fallback: string) => {
      const pattern = new RegExp(
        `\\{\\$${name.replaceAll('.', '\\.')}(?: :wren:field(?: fallback=(?:\\|(?:[^|\\\\]|\\\\.)*\\||[^\\s}]+))?)?\\}`,
        'g',
      );
      onChange(body.replace(pattern, () => fieldSource(name, fallback === '' ? null : fallback)));
    },
    [body, onChange],
  );
  if (!template.ok || template.value.fields.length === 0) return null;
  return (
    <ul className="mt-3">
      {template.value.fields.map(({ name, fallback }) => (
        <li key={name} className="flex flex-wrap items-center gap-2 py-0.5 text-sm">
          <label className="flex items-center gap-2">
            <span className="text-soft">If {labelOf(name)} is empty, say</span>
            <input
              className="input w-44! py-0.5!"
              value={fallback ?? ''}
              onChange={(event) => change(name, event.target.value)}
            />
          </label>
          {fallback === null && <span className="text-soft">(it goes to nobody without it)</span>}
        </li>
      ))}
    </ul>
  );
}

/** The program, the part of it that is meant, and the name. */
export function WhoFields({
  id,
  values,
  set,
  programs,
  audiences,
  problemOf,
}: Pick<DraftProps, 'programs' | 'audiences'> & {
  id: string;
  values: DraftValues;
  set(part: Partial<DraftValues>): void;
  problemOf(field: string): string | undefined;
}) {
  return (
    <div className="mb-4 grid gap-4 sm:grid-cols-4">
      <Labelled id={`${id}c`} label="By" problem={problemOf('channel')}>
        <select
          id={`${id}c`}
          className="input"
          value={values.channel}
          onChange={(event) => set({ channel: event.target.value as Channel })}
        >
          {CHANNELS.map((channel) => (
            <option key={channel} value={channel}>
              {CHANNEL_WORDS[channel].message}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled id={`${id}p`} label="To members of" problem={problemOf('program')}>
        <select
          id={`${id}p`}
          className="input"
          value={values.program}
          onChange={(event) => set({ program: event.target.value })}
        >
          {programs.map((program) => (
            <option key={program.id} value={program.id}>
              {program.name}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled id={`${id}a`} label="Of them" problem={problemOf('condition')}>
        <select
          id={`${id}a`}
          className="input"
          value={values.audience}
          onChange={(event) => set({ audience: event.target.value })}
        >
          <option value="">everybody</option>
          {audiences.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled id={`${id}n`} label="Name, for you" problem={problemOf('name')}>
        <input
          id={`${id}n`}
          className="input"
          value={values.name}
          onChange={(event) => set({ name: event.target.value })}
          placeholder="Saturn week"
        />
      </Labelled>
    </div>
  );
}
