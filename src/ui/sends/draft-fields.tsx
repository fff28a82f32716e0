'use client';
import { useState } from 'react';
import { CHANNELS, CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import type { MergeField } from '@/core/text/fields';
import type { Finding } from '@/core/wording/finding';
import { Problem } from '@/ui/kit/problem';
import type { EditorHandle, EditorItem, EditorTemplate } from '@/ui/kit/text-editor';
import { Writer } from '@/ui/kit/writer';
import { type DraftProps, type DraftValues } from './draft-values';

/** One wording: its subject, its text, and the fields that are put into it. */
export function Writing({
  id,
  letter,
  subject,
  body,
  set,
  onTemplate,
  onItem,
  editor,
  subjectProblem,
  problem,
  findings,
  fields,
}: {
  fields: readonly MergeField[];
  /** What is wrong with the text, for its places. */
  findings: readonly Finding[];
  id: string;
  /** It goes by e-mail. */
  letter: boolean;
  subject: string;
  body: string;
  set(part: { subject?: string; body?: string }): void;
  /** A template was put in. */
  onTemplate(template: EditorTemplate): void;
  /** Something to write about was put in. */
  onItem(item: EditorItem): void;
  editor: React.RefObject<EditorHandle | null>;
  subjectProblem: string | undefined;
  problem: string | null | undefined;
}) {
  const [initial] = useState(body);
  return (
    <>
      {letter && (
        <div className="mb-4">
          <Labelled id={`${id}s`} label="Subject" problem={subjectProblem}>
            <input
              id={`${id}s`}
              className="input"
              value={subject}
              maxLength={300}
              onChange={(event) => set({ subject: event.target.value })}
            />
          </Labelled>
        </div>
      )}
      <Writer
        ref={editor}
        label={letter ? 'Letter' : 'Text'}
        initial={initial}
        value={body}
        onChange={(source) => set({ body: source })}
        fields={fields}
        counts={!letter}
        findings={findings}
        problem={problem}
        onTemplate={onTemplate}
        onItem={onItem}
      />
    </>
  );
}

export function Labelled({
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

/** The channel, the program and the name. */
export function WhoFields({
  id,
  values,
  set,
  programs,
  problemOf,
}: Pick<DraftProps, 'programs'> & {
  id: string;
  values: DraftValues;
  set(part: Partial<DraftValues>): void;
  problemOf(field: string): string | undefined;
}) {
  return (
    <div className="mb-4 grid gap-4 sm:grid-cols-3">
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
